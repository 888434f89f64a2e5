/** What an event and its properties really look like; from it a plan entry can be drafted. */
import { useState } from 'react';
import { toast } from '../../ui/toast';
import type { ArrivedName, EventProfile } from '../../core/arrival/profile';
import { draftFromProfile } from '../../core/arrival/profile-draft';
import { automaticEvents, buildOn, listAsAutomatic } from '../../core/plan/automatic';
import { settingsOf, type Plan } from '../../core/plan/plan';
import { Bars } from '../../ui/Bars';
import { Button } from '../../ui/Button';
import { count, dayText, instantText, percent, plural } from '../../ui/format';
import { SourceMark } from '../../ui/SourceMark';
import { Nothing } from '../workplace/Nothing';
import { Failed, Loading } from '../../ui/States';
import { usePlan, useWorkplace } from '../workplace/context';
import { PropertyRow } from './ProfileProperty';
import { places } from '../workplace/place';
import { useView } from './use-view';

/** What the sources' libraries add on their own, apart from what is planned, by source. */
const Automatic = ({ profile }: { profile: EventProfile }) => {
  const plan = usePlan();
  if (profile.automatic.length === 0) return null;
  return (
    <section aria-label="Added by the sources’ libraries" className="flex flex-wrap items-baseline gap-x-5 px-6 pb-2 text-sm">
      <h2 className="font-bold text-ink-2">Added by the libraries</h2>
      {profile.automatic.map((a) => (
        <p key={a.name} className="flex flex-wrap items-center gap-x-2">
          <span className="wire">{a.name}</span>
          {a.sources.map((s) => {
            const source = plan.source[s.sourceId];
            const odd = s.declared !== s.messages > 0;
            return (
              <span key={s.sourceId} className={`inline-flex items-center gap-1 ${odd ? 'text-caution' : 'text-ink-2'}`}>
                {source ? <SourceMark letter={source.mark} kind={source.kind} name={source.name} /> : s.sourceId}
                {s.messages === 0
                  ? s.declared
                    ? 'should add it but does not'
                    : 'does not'
                  : `on ${percent(s.messages / s.of, 0)}${odd ? ', undeclared' : ''}`}
              </span>
            );
          })}
        </p>
      ))}
    </section>
  );
};

/** What the plan makes of an event, and what can be made of it. */
const Taken = ({
  plan,
  profile,
  lacking,
  draft,
}: {
  plan: Plan;
  profile: EventProfile;
  lacking: number;
  draft: (() => void) | undefined;
}) => {
  const { store, go } = useWorkplace();
  const { eventName, planned, defined } = profile;
  const libraries = automaticEvents(plan).get(eventName) ?? [];
  const define = (): void => {
    const made = buildOn(plan, eventName, () => crypto.randomUUID());
    if (store.apply(made.edits, `Began a definition over ${eventName}`)) go(...places.opened('definition', made.id));
  };
  const list = (): void => {
    const edits = listAsAutomatic(
      plan,
      eventName,
      profile.sources.map((s) => s.value),
    );
    store.apply(edits, `Listed ${eventName} as sent by a library`, () => toast(`${eventName} is listed with its sources.`));
  };
  if (defined) return <span className="ml-auto text-clear">defined, not sent</span>;
  if (!planned && libraries.length > 0)
    return (
      <span className="ml-auto flex items-center gap-3">
        <span className="text-ink-2">sent by the library of {libraries.map((id) => plan.source[id]?.name ?? id).join(', ')}</span>
        <Button look="full" onClick={define}>
          Build on it
        </Button>
      </span>
    );
  if (!draft) return <span className="ml-auto text-clear">complete in the plan</span>;
  return (
    <span className="ml-auto flex items-center gap-2">
      {planned ? null : (
        <Button onClick={list} title="The library of its source sends it on its own: it is no fault, and needs no plan.">
          It comes from a library
        </Button>
      )}
      <Button look="full" onClick={draft}>
        {planned ? `Add ${plural(lacking, 'property', 'properties')} to the plan` : 'Draft a plan entry'}
      </Button>
    </span>
  );
};

/** Names, one under the other, with how many messages came. */
const Names = ({ names, chosen }: { names: readonly ArrivedName[]; chosen: string | undefined }) => {
  const { go } = useWorkplace();
  return names.map((n) => (
    <li key={n.eventName}>
      <button
        type="button"
        aria-current={n.eventName === chosen}
        onClick={() => go(...places.profile(n.eventName))}
        className={`flex min-h-[28px] w-full items-baseline gap-2 px-3 text-left ${n.eventName === chosen ? 'bg-wash' : 'hover:bg-ground'}`}
      >
        <span
          className={`min-w-0 truncate wire ${n.planned || n.automatic ? '' : 'text-caution'}`}
          title={n.planned || n.automatic ? n.eventName : `${n.eventName}: not planned`}
        >
          {n.eventName}
        </span>
        <span className="ml-auto text-sm text-ink-2 figures">{count(n.messages)}</span>
      </button>
    </li>
  ));
};

const Profile = ({ profile }: { profile: EventProfile }) => {
  const plan = usePlan();
  const { store, go } = useWorkplace();
  const { timeZone } = settingsOf(plan);
  const edits = profile.defined ? [] : draftFromProfile(plan, profile, () => crypto.randomUUID());
  const draft = (): void => {
    const saved = () => toast(`${profile.eventName} is in the plan as it arrived; add its trigger. Undo with Ctrl Z.`);
    if (!store.apply(edits, `Drafted ${profile.eventName} from what arrived`, saved)) return;
    const created = edits.find((e) => e.kind === 'event');
    if (created) go(...places.row('event', created.id));
  };
  const lacking = edits.filter((e) => e.kind === 'property').length;
  return (
    <>
      <header className="flex flex-wrap items-start gap-x-6 gap-y-2 border-b border-rule px-6 pt-3 pb-3">
        <div className="min-w-0">
          <h1 className="truncate wire text-[1.15rem] font-bold">{profile.eventName}</h1>
          <p className="text-ink-2">
            {plural(profile.messages, 'message')}, <span title={instantText(profile.firstAt)}>{dayText(profile.firstAt, timeZone)}</span> to{' '}
            <span title={instantText(profile.lastAt)}>{dayText(profile.lastAt, timeZone)}</span>,{' '}
            {plural(profile.releases.filter((r) => r.value !== '').length, 'release')}
            {profile.formerNames.length > 0 ? (
              <>
                , including{' '}
                {profile.formerNames.map((f) => (
                  <span key={f.value} className="mr-1">
                    {count(f.messages)} as <span className="wire">{f.value}</span>
                  </span>
                ))}
              </>
            ) : null}
          </p>
        </div>
        <Taken plan={plan} profile={profile} lacking={lacking} draft={edits.length > 0 ? draft : undefined} />
      </header>
      <div className="flex flex-wrap gap-x-10 gap-y-3 px-6 py-3">
        <section>
          <h2 className="text-sm font-bold text-ink-2">Each day of four weeks</h2>
          {profile.sources.map((s) => {
            const source = plan.source[s.value];
            return (
              <p key={s.value} className="mt-1 flex items-end gap-2">
                {source ? <SourceMark letter={source.mark} kind={source.kind} name={source.name} /> : s.value}
                <Bars
                  bars={s.days.map((n, i) => ({ value: n, title: `${dayText(profile.days[i]!, timeZone)} ${count(n)}` }))}
                  label={`Messages of each day from ${source?.name ?? s.value}`}
                  width={6}
                  running
                />
                <span className="text-sm text-ink-2 figures">
                  {count(s.days.reduce((n, d) => n + d, 0))} of {count(s.messages)} in all
                </span>
              </p>
            );
          })}
        </section>
        <section className="min-w-0 flex-1">
          <h2 className="text-sm font-bold text-ink-2">
            Where it fires{profile.pageCount > 0 ? `: ${plural(profile.pageCount, 'page or screen', 'pages or screens')}` : ''}
          </h2>
          {profile.pageCount === 0 ? <p className="text-ink-2">No message carries a page or screen.</p> : null}
          <ul className="grid max-h-[76px] grid-cols-2 gap-x-6 overflow-y-auto" aria-label="Pages or screens" tabIndex={0}>
            {profile.pages.map((p) => (
              <li key={p.value} className="flex gap-2">
                <span
                  className={`min-w-0 truncate wire ${p.inScope ? '' : 'text-stop'}`}
                  title={p.inScope ? p.value : `${p.value}: out of scope`}
                >
                  {p.value}
                </span>
                <span className="ml-auto text-sm text-ink-2 figures">{count(p.messages)}</span>
              </li>
            ))}
          </ul>
        </section>
      </div>
      <Automatic profile={profile} />
      {profile.properties.length === 0 ? (
        <p className="px-6 text-ink-2">It carries no properties of the plan.</p>
      ) : (
        <div className="px-6 pb-4">
          <table className="w-full table-fixed border-collapse">
            <thead>
              <tr className="text-left text-sm text-ink-2">
                <th className="w-[142px] pr-4 font-medium">property</th>
                <th className="w-[118px] pr-4 font-medium">type</th>
                <th className="w-[56px] pr-4 text-right font-medium">values</th>
                <th className="w-[136px] pr-4 font-medium">range</th>
                <th className="font-medium">most frequent</th>
              </tr>
            </thead>
            <tbody>
              {profile.properties.map((p) => (
                <PropertyRow
                  key={p.name}
                  p={p}
                  messages={profile.messages}
                  several={profile.sources.length > 1}
                  automatic={!profile.planned && automaticEvents(plan).has(profile.eventName)}
                />
              ))}
            </tbody>
          </table>
        </div>
      )}
    </>
  );
};

export const ProfileView = ({ eventName }: { eventName: string }) => {
  const [filter, setFilter] = useState('');
  const names = useView('GET /api/arrived-names');
  const chosen = eventName === '' ? names.data?.[0]?.eventName : eventName;
  const { data, error, refetch } = useView('GET /api/profile', { event: chosen ?? '' }, { enabled: chosen !== undefined });
  if (names.error && !names.data) return <Failed what="The names" error={names.error} retry={() => void names.refetch()} />;
  if (!names.data) return <Loading what="the names" />;
  if (names.data.length === 0)
    return <Nothing title="No messages yet.">A profile shows what events and properties look like once they arrive.</Nothing>;
  const shown = names.data.filter((n) => n.eventName.toLowerCase().includes(filter.trim().toLowerCase()));
  const automatic = shown.filter((n) => n.automatic && !n.planned);
  const own = shown.filter((n) => !automatic.includes(n));
  return (
    <div className="flex min-h-0 flex-1">
      <section aria-label="Names that arrived" className="flex w-[232px] shrink-0 flex-col border-r border-rule">
        <input
          type="search"
          aria-label="Filter the names"
          placeholder="Filter"
          value={filter}
          onChange={(e) => setFilter(e.target.value)}
          className="m-2 border border-rule bg-transparent px-2 py-1 placeholder:text-ink-2"
        />
        <ul className="min-h-0 flex-1 overflow-y-auto">
          <Names names={own} chosen={chosen} />
          {automatic.length > 0 ? (
            <li className="mt-2 border-t border-rule px-3 pt-1 text-sm font-bold text-ink-2">Sent by libraries</li>
          ) : null}
          <Names names={automatic} chosen={chosen} />
          {shown.length === 0 ? <li className="px-3 text-ink-2">No name contains this.</li> : null}
        </ul>
      </section>
      <div className="min-w-0 flex-1 overflow-y-auto" tabIndex={-1}>
        {error && data?.eventName !== chosen ? <Failed what="The profile" error={error} retry={() => void refetch()} /> : null}
        {data === undefined && !error ? <Loading what="the profile" /> : null}
        {data === null && !error ? (
          <Nothing title={`No messages of ${chosen ?? 'this event'} yet.`}>The profile appears with the first message.</Nothing>
        ) : null}
        {data && (!error || data.eventName === chosen) ? <Profile key={data.eventName} profile={data} /> : null}
      </div>
    </div>
  );
};
