/** The Identity station: persons with and without linking, and the bench. */
import { Age } from '../../ui/Age';
import type { CountingBasis } from '../../core/identity/counting-basis';
import type { Unusable } from '../../core/identity/person-rules';
import type { IdentityReport } from '../../core/identity/report';
import { Button } from '../../ui/Button';
import { count, percent, plural } from '../../ui/format';
import { Frame, ListHead, ListRow } from '../../ui/Frame';
import { Empty, Failed, Loading } from '../../ui/States';
import { useWorkplace } from '../workplace/context';
import { Nothing } from '../workplace/Nothing';
import { useIdentity } from '../workplace/queries';
import { Rules } from './Rules';
import { useRulesShown } from './rules-shown';
import { later } from '../../ui/later';
import { places, identifierIn, partsOf } from '../workplace/place';

const HealthView = later(() => import('./HealthView').then((m) => m.HealthView), <Loading what="the view" />);
const PersonView = later(() => import('./PersonView').then((m) => m.PersonView), <Loading what="the view" />);
const Rehearsal = later(() => import('./Rehearsal').then((m) => m.Rehearsal), <Loading what="the view" />);
const SituationsView = later(() => import('./SituationsView').then((m) => m.SituationsView), <Loading what="the view" />);
const WhatIfView = later(() => import('./WhatIfView').then((m) => m.WhatIfView), <Loading what="the view" />);

const BASIS_NOTE: Record<CountingBasis, string> = {
  'device only':
    'Each anonymous or device ID is one person. User IDs are ignored: server messages that carry only a user ID belong to nobody.',
  'user ID first': 'The user ID where a message has one, otherwise the device. Messages before sign-in are another person.',
  'fully linked': 'Identifiers seen together are one person, within the guards.',
};

const WHY: Record<Unusable, string> = {
  placeholder: 'a placeholder: never links',
  'sample of the plan': 'the plan’s own sample: never links',
  blocked: 'blocked by the rules',
  'kind not planned': 'an unplanned kind of identifier: identifies nobody',
};

const RulesShown = () => {
  const { place, lookThrough } = useWorkplace();
  const { number, draft } = useRulesShown();
  return (
    <div className="border-b border-rule px-4 py-2" role="group" aria-label="Identity rules">
      <span className="block text-sm text-ink-2">Identity rules</span>
      {number === undefined ? (
        <b>the draft; nothing is published yet</b>
      ) : (
        (['version', 'draft'] as const).map((rules) => (
          <button
            key={rules}
            type="button"
            aria-pressed={draft === (rules === 'draft')}
            onClick={() => lookThrough({ ...place.lens, rules })}
            className={`mr-4 min-h-[28px] border-b-2 ${draft === (rules === 'draft') ? 'border-accent font-bold' : 'border-transparent text-ink-2 hover:border-rule'}`}
          >
            {rules === 'draft' ? 'the draft' : `version ${number}`}
          </button>
        ))
      )}
    </div>
  );
};

/** Which figures elsewhere go by the persons shown. */
const usedBy = ({ number, draft }: { number: number | undefined; draft: boolean }): string =>
  number === undefined
    ? 'All figures use these rules until a version is published.'
    : draft
      ? `Figures at Questions use these rules; findings and clearance use version ${number}.`
      : 'Findings and clearance use these rules; figures at Questions use the draft.';

const inflation = (persons: number, linked: number): string => {
  const share = persons / linked - 1;
  return `persons, ${share >= 0 ? '+' : '−'}${percent(Math.abs(share))} against fully linked`;
};

const Bases = ({ report }: { report: IdentityReport }) => {
  const shown = useRulesShown();
  const max = Math.max(1, ...report.bases.map((b) => b.persons));
  const linked = report.bases.find((b) => b.basis === 'fully linked')!.persons;
  return (
    <table className="mt-3 w-full border-collapse">
      <caption className="sr-only">Persons under each counting basis</caption>
      <tbody>
        {report.bases.map((b) => (
          <tr key={b.basis} className="border-t border-rule align-top">
            <th scope="row" className="w-[290px] py-2.5 pr-5 text-left font-normal">
              <span className="block font-bold">{b.basis}</span>
              <span className="block text-sm text-ink-2">
                {BASIS_NOTE[b.basis]} {b.basis === 'fully linked' ? usedBy(shown) : ''}
              </span>
            </th>
            <td className="py-2.5">
              <span className="flex items-center gap-3">
                <span
                  className={`h-6 ${b.basis === 'fully linked' ? 'bg-accent' : 'border-2 border-accent'}`}
                  style={{ width: `${(b.persons / max) * 60}%` }}
                />
                <span className="text-[1.3rem] font-bold">{count(b.persons)}</span>
              </span>
              <span className="mt-1 block text-sm text-ink-2">
                {b.basis === 'fully linked' ? 'persons' : linked > 0 ? inflation(b.persons, linked) : 'persons'}
                {b.unattributed > 0 ? `; ${plural(b.unattributed, 'message')} belong to nobody` : ''}
              </span>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
};

const PersonsView = ({ report }: { report: IdentityReport }) => (
  <div className="px-7 py-5">
    <h1 className="pr-8 text-[1.5rem] leading-tight font-bold">The same {count(report.messages)} messages under each counting basis</h1>
    <Bases report={report} />
    <div className="mt-2 grid grid-cols-3 gap-6 border-t border-ink pt-4">
      <section>
        <h2 className="font-bold">Orphans</h2>
        <p className="text-[1.5rem] font-bold">{count(report.orphans)}</p>
        <p className="text-sm text-ink-2">
          of {count(report.userIds)} user IDs were never linked to a client’s identifier: their history before the sign-up is lost.
        </p>
      </section>
      <section>
        <h2 className="font-bold">Links</h2>
        <p className="text-[1.5rem] font-bold">{count(report.links)}</p>
        <p className="text-sm text-ink-2">
          pairs of identifiers seen together; {count(report.refusedCount)} refused because they would put two user IDs into one person.
        </p>
      </section>
      <section>
        <h2 className="font-bold">Placeholders</h2>
        {report.placeholders.length === 0 ? <p className="mt-1 text-clear">None.</p> : null}
        {report.placeholders.slice(0, 4).map((p) => (
          <p key={`${p.kind} ${p.value}`} className="mt-1">
            <span className="wire font-semibold text-stop">{p.value || '(empty)'}</span> as {p.kind} ID in {plural(p.messages, 'message')};{' '}
            {WHY[p.why]}.
          </p>
        ))}
      </section>
    </div>
  </div>
);

const RejectedView = ({ report }: { report: IdentityReport }) =>
  report.refused.length === 0 ? (
    <Empty title="No refused links.">No message would put two user IDs into one person.</Empty>
  ) : (
    <div className="px-7 py-5">
      <h1 className="text-[1.5rem] font-bold">Refused links</h1>
      <p className="mb-3 text-ink-2">
        Each would put two user IDs into one person or join what was cut: a shared device, or two accounts of one person. The newest{' '}
        {report.refused.length} of {count(report.refusedCount)}.
      </p>
      <table className="w-full">
        <tbody>
          {report.refused.map((r) => (
            <tr key={`${r.a} ${r.b}`} className="border-t border-rule">
              <td className="py-1.5 wire">{r.a}</td>
              <td className="wire">{r.b}</td>
              <td className="text-right text-sm text-ink-2" title={new Date(r.at).toISOString()}>
                <Age at={r.at} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );

const VIEWS = [
  { id: 'persons', title: 'Counting bases' },
  { id: 'health', title: 'Identity health' },
  { id: 'situations', title: 'Situations by source' },
  { id: 'bench', title: 'Bench: test cases' },
  { id: 'person', title: 'One person and their links' },
  { id: 'what-if', title: 'Try rules' },
  { id: 'refused', title: 'Refused links' },
] as const;

const Identity = () => {
  const { place, go } = useWorkplace();
  const { data, error, refetch } = useIdentity();
  const [name, ...rest] = partsOf(place.item);
  const view = VIEWS.find((v) => v.id === name)?.id ?? 'persons';
  const list = (
    <>
      <ListHead title="Identity" />
      <RulesShown />
      {VIEWS.map((v) => (
        <ListRow key={v.id} chosen={v.id === view} onChoose={() => go(...places.identity(v.id))}>
          {v.title}
        </ListRow>
      ))}
      {data && data.identifiers.length > 0 ? (
        <div className="p-4">
          <h3 className="mb-1 font-semibold text-ink-2">Identifiers that arrived</h3>
          {data.identifiers.map((i) => (
            <p key={i.kind} className="flex border-b border-dotted border-rule py-1">
              <span className="wire">{i.kind}</span>
              <span className="ml-auto figures">{count(i.distinct)}</span>
            </p>
          ))}
        </div>
      ) : null}
    </>
  );
  return (
    <Frame list={list} listLabel="Views of identity" margin={view === 'situations' ? undefined : <Rules />}>
      {view === 'bench' ? (
        <Rehearsal chosen={rest[0]} />
      ) : view === 'health' ? (
        <HealthView />
      ) : view === 'situations' ? (
        <SituationsView />
      ) : view === 'what-if' ? (
        <WhatIfView />
      ) : view === 'person' ? (
        <PersonView identifier={identifierIn(rest)} />
      ) : error && !data ? (
        <Failed what="The identity report" error={error} retry={() => void refetch()} />
      ) : !data ? (
        <Loading what="persons" />
      ) : data.messages === 0 ? (
        <Nothing title="No message has arrived yet.">
          Test the rules at the bench in the meantime.
          <p className="mt-4">
            <Button look="full" onClick={() => go(...places.identity('bench'))}>
              Go to the bench
            </Button>
          </p>
        </Nothing>
      ) : view === 'refused' ? (
        <RejectedView report={data} />
      ) : (
        <PersonsView report={data} />
      )}
    </Frame>
  );
};

export default Identity;
