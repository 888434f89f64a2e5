/** Versions: any two compared, one restored, the plan as it was at a date. */
import { Age } from '../../ui/Age';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from '../../ui/toast';
import { DEFAULT_SETTINGS } from '../../core/plan/defaults';
import { instantAt } from '../../core/questions/day-text';
import { DateField } from '../../ui/DateField';
import { emptyPlan, settingsOf, type Plan } from '../../core/plan/plan';
import { Button } from '../../ui/Button';
import { dayText, plural, timeText } from '../../ui/format';
import { Failed, Loading } from '../../ui/States';
import { ask } from '../../client/api';
import { usePlan } from '../workplace/context';
import type { Version } from '../../core/plan/version';
import { useHistory } from './history';
import { JudgedChanges } from './JudgedChanges';
import { RestoreDialog } from './RestoreDialog';

const DRAFT = 'draft';
/** What there was before the first version. */
const NOTHING = 'nothing';

/** The plan at a place: the draft, a version by number, or an instant. */
const usePlanAt = (place: string, draft: Plan) =>
  useQuery({
    queryKey: ['plan-at', place],
    enabled: place !== DRAFT && place !== '' && place !== NOTHING,
    staleTime: place.startsWith('at ') ? 0 : Infinity,
    queryFn: async ({ signal }) =>
      place.startsWith('at ')
        ? (await ask('GET /api/plan-at', { query: { at: place.slice(3) } }, signal)).plan
        : (await ask('GET /api/version', { query: { number: Number(place) } }, signal)).plan,
    ...(place === DRAFT ? { initialData: draft } : place === NOTHING ? { initialData: emptyPlan(DEFAULT_SETTINGS) } : {}),
  });

const Choice = ({
  label,
  value,
  versions,
  onChange,
}: {
  label: string;
  value: string;
  versions: readonly Version[];
  onChange: (v: string) => void;
}) => (
  <label className="flex items-center gap-1.5">
    <span className="text-ink-2">{label}</span>
    <select
      value={value.startsWith('at ') ? 'at' : value}
      onChange={(e) => onChange(e.target.value)}
      className="border border-rule bg-paper py-0.5"
    >
      <option value={DRAFT}>the draft</option>
      {versions.map((v) => (
        <option key={v.number} value={String(v.number)}>
          version {v.number}
        </option>
      ))}
      {value === NOTHING ? <option value={NOTHING}>nothing, before version 1</option> : null}
      {value.startsWith('at ') ? <option value="at">the draft of {value.slice(3, 19).replace('T', ' ')}</option> : null}
    </select>
  </label>
);

const Comparison = ({ from, to }: { from: string; to: string }) => {
  const draft = usePlan();
  const a = usePlanAt(from, draft);
  const b = usePlanAt(to, draft);
  const failed = a.error ?? b.error;
  if (failed) return <Failed what="The comparison" error={failed} retry={() => void (a.refetch(), b.refetch())} />;
  const newer = to === DRAFT ? draft : b.data;
  // A workspace has settings before it has anything else: they are no change.
  const older = from === DRAFT ? draft : from === NOTHING && newer && a.data ? { ...a.data, settings: newer.settings } : a.data;
  if (!older || !newer) return <Loading what="the comparison" />;
  return <JudgedChanges from={older} to={newer} nothing="No differences." />;
};

export const Versions = () => {
  const plan = usePlan();
  const { data, error, refetch } = useHistory();
  const versions = data?.versions ?? [];
  const newest = versions[0]?.number;
  const [chosen, setChosen] = useState<{ from: string; to: string } | undefined>();
  const [earlier, setEarlier] = useState<{ what: string; plan: Plan } | undefined>();
  const [day, setDay] = useState('');
  const [time, setTime] = useState('09:00');
  if (error) return <Failed what="The versions" error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the versions" />;
  const { timeZone, weekStartsOn } = settingsOf(plan);
  const at = instantAt(day, time, timeZone);
  const from = chosen?.from ?? (newest === undefined ? '' : String(newest));
  const to = chosen?.to ?? DRAFT;
  const restore = async (v: Version) => {
    const { plan: old } = await ask('GET /api/version', { query: { number: v.number } });
    setEarlier({ what: `version ${v.number}`, plan: old });
  };
  const restoreDay = async (instant: string) => {
    const { plan: old } = await ask('GET /api/plan-at', { query: { at: instant } });
    setEarlier({ what: `the draft of ${dayText(Date.parse(instant), timeZone)}, ${timeText(Date.parse(instant), timeZone)}`, plan: old });
  };
  return (
    <div className="px-7 py-5">
      <h2 className="text-lg font-bold">Versions</h2>
      {versions.length === 0 ? (
        <p className="mt-1 text-ink-2">Nothing is published yet; the first version appears once you publish.</p>
      ) : null}
      <div className="mt-2 max-h-56 overflow-y-auto border-b border-rule">
        {versions.map((v) => (
          <div key={v.number} className="flex items-baseline gap-3 border-t border-rule py-1.5">
            <b className="w-20 shrink-0">Version {v.number}</b>
            <span className="min-w-0 flex-1 truncate">{v.note}</span>
            <span className="text-sm text-ink-2" title={new Date(v.at).toISOString()}>
              {v.author}, {dayText(v.at, timeZone)}, <Age at={v.at} />
            </span>
            <span className="wire text-[0.8rem] text-ink-2" title={`SHA-256 ${v.contentHash}`}>
              {v.contentHash.slice(0, 8)}
            </span>
            <Button
              look="quiet"
              className="text-sm"
              onClick={() => setChosen({ from: v.number > 1 ? String(v.number - 1) : NOTHING, to: String(v.number) })}
            >
              What it changed
            </Button>
            <Button
              look="quiet"
              className="text-sm"
              onClick={() => void restore(v).catch((e: unknown) => toast.error((e as Error).message))}
            >
              Bring back …
            </Button>
          </div>
        ))}
      </div>
      <div className="mt-5 flex flex-wrap items-center gap-4">
        <h2 className="text-lg font-bold">Compare</h2>
        <Choice label="from" value={from} versions={versions} onChange={(v) => setChosen({ from: v, to })} />
        <Choice label="to" value={to} versions={versions} onChange={(v) => setChosen({ from, to: v })} />
        <form
          className="ml-auto flex items-center gap-1.5"
          onSubmit={(e) => {
            e.preventDefault();
            if (at !== undefined) setChosen({ from: `at ${new Date(at).toISOString()}`, to: DRAFT });
          }}
        >
          <span className="text-ink-2">as it was on</span>
          <DateField label="As it was on the day" value={day} timeZone={timeZone} weekStartsOn={weekStartsOn} onChange={setDay} />
          <input
            aria-label="at the time"
            placeholder="09:30"
            value={time}
            onChange={(e) => setTime(e.target.value)}
            className="w-[5em] border border-rule bg-paper px-2 py-1 placeholder:text-ink-2"
          />
          <Button type="submit" className="text-sm" disabled={at === undefined}>
            Show
          </Button>
        </form>
      </div>
      {from.startsWith('at ') ? (
        <p className="mt-2 text-ink-2">
          Changes since {dayText(Date.parse(from.slice(3)), timeZone)}, {timeText(Date.parse(from.slice(3)), timeZone)}. In force then:{' '}
          {versions.find((v) => v.at <= Date.parse(from.slice(3)))?.number === undefined
            ? 'no version yet.'
            : `version ${versions.find((v) => v.at <= Date.parse(from.slice(3)))!.number}.`}{' '}
          <Button
            look="quiet"
            className="text-sm"
            onClick={() => void restoreDay(from.slice(3)).catch((e: unknown) => toast.error((e as Error).message))}
          >
            Bring this back …
          </Button>
        </p>
      ) : null}
      <div className="mt-3">
        {from === '' ? (
          <p className="text-ink-2">
            There is no version to compare with; the draft has {plural(Object.keys(plan.event).length, 'event')}.
          </p>
        ) : (
          <Comparison from={from} to={to} />
        )}
      </div>
      {earlier ? (
        <RestoreDialog
          what={earlier.what}
          earlier={earlier.plan}
          log={data.changes}
          publishedAt={versions[0]?.at ?? 0}
          onClose={() => setEarlier(undefined)}
        />
      ) : null}
    </div>
  );
};
