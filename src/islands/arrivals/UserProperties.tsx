/** User properties as they came: what can be used and what cannot, values by source, and buckets for what has too many. */
import { useState } from 'react';
import { toast } from '../../ui/toast';
import type { UserPropertyReport, UserPropertyState } from '../../core/arrival/user-properties';
import { BUCKET_WAYS, countBuckets, proposeBounds, type BucketWay } from '../../core/questions/buckets';
import { Button } from '../../ui/Button';
import { count, percent, plural } from '../../ui/format';
import { SourceMark } from '../../ui/SourceMark';
import { Empty, Failed, Loading } from '../../ui/States';
import { usePlan, useWorkplace } from '../workplace/context';
import { places } from '../workplace/place';
import { useView } from './use-view';

const TONE: { readonly [S in UserPropertyState]: string } = {
  usable: 'text-clear',
  'sent, not usable': 'text-caution',
  'missing or misspelt': 'text-caution',
  waiting: 'text-ink-2',
  'for tests': 'text-ink-2',
  retired: 'text-ink-2',
};

const sentenceOf = (r: UserPropertyReport): string => {
  if (r.swappedFor !== undefined) return `Name and value were swapped in the call: “${r.swappedFor}” was meant.`;
  if (r.state === 'usable') return 'Registered and arriving.';
  if (r.state === 'sent, not usable')
    return r.planned
      ? 'It arrives and is planned, but is not registered for reporting: it cannot be grouped by yet.'
      : `It arrives and is not planned, so it cannot be used${r.nearest === undefined ? '' : `. The nearest planned name is “${r.nearest}”`}.`;
  if (r.state === 'missing or misspelt') return `Registered, and never received under this name; “${r.nearest ?? ''}” was.`;
  if (r.state === 'waiting') return 'It was planned, and has not arrived from any source.';
  return r.state === 'for tests' ? 'Temporary, for tests: it never counts as registered.' : 'Retired.';
};

const BUCKETS = [3, 4, 5, 6, 8];

const Buckets = ({ report }: { report: UserPropertyReport }) => {
  const { store } = useWorkplace();
  const draft = usePlan();
  const [way, setWay] = useState<BucketWay>('equal shares');
  const [max, setMost] = useState(5);
  const inForce = report.id === undefined ? undefined : draft.userProperty[report.id];
  const proposed = proposeBounds(report.numbers, way, max);
  const kept = inForce?.buckets ?? [];
  const same = kept.length === proposed.length && kept.every((b, i) => b === proposed[i]);
  const total = report.numbers.reduce((n, v) => n + v.weight, 0);
  const keep = (): void => {
    if (report.id === undefined || !inForce) return;
    const edit = { op: 'set', kind: 'userProperty', id: report.id, field: 'buckets', before: inForce.buckets, after: proposed } as const;
    store.apply([edit], `Buckets of ${report.name}`, () => toast(`${report.name} is grouped in these buckets wherever it is grouped by.`));
  };
  return (
    <section aria-label="Buckets" className="border-t border-rule px-6 py-3">
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="font-bold">Buckets</h2>
        <label className="flex items-center gap-1.5 text-sm">
          by
          <select
            className="border border-rule bg-transparent px-1.5 py-1"
            value={way}
            onChange={(e) => setWay(e.target.value as BucketWay)}
          >
            {BUCKET_WAYS.map((w) => (
              <option key={w}>{w}</option>
            ))}
          </select>
        </label>
        <label className="flex items-center gap-1.5 text-sm">
          at most
          <select className="border border-rule bg-transparent px-1.5 py-1" value={max} onChange={(e) => setMost(Number(e.target.value))}>
            {BUCKETS.map((n) => (
              <option key={n}>{n}</option>
            ))}
          </select>
        </label>
        {same ? (
          <span className="ml-auto text-clear">these are kept in the plan</span>
        ) : (
          <Button look="full" className="ml-auto" disabled={proposed.length === 0 || !inForce} onClick={keep}>
            Save buckets
          </Button>
        )}
      </div>
      {proposed.length === 0 ? (
        <p className="mt-2 text-ink-2">All people have the same value, so there is nothing to divide.</p>
      ) : (
        <table className="mt-2 w-full max-w-[620px]">
          <caption className="sr-only">People in each bucket</caption>
          <tbody>
            {countBuckets(proposed, report.numbers).map((b) => (
              <tr key={b.label} className="border-t border-rule">
                <th scope="row" className="w-48 py-1 text-left font-medium">
                  {b.label}
                </th>
                <td>
                  <span className="block h-2.5 bg-accent" style={{ width: `${(b.weight / Math.max(1, total)) * 100}%` }} />
                </td>
                <td className="w-24 text-right figures">{count(b.weight)}</td>
                <td className="w-16 text-right text-sm text-ink-2 figures">{percent(b.weight / Math.max(1, total), 0)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <p className="mt-2 text-sm text-ink-2">
        Counted by what {plural(total, 'person', 'persons')} have now.{' '}
        {kept.length > 0 && !same ? `The plan keeps the bounds ${kept.join(', ')}.` : ''}
      </p>
    </section>
  );
};

const Values = ({ report }: { report: UserPropertyReport }) => {
  const plan = usePlan();
  if (report.values.length === 0) return null;
  return (
    <section aria-label="Values by source" className="px-6 pb-4">
      <table className="w-full border-collapse">
        <thead>
          <tr className="text-right text-sm text-ink-2">
            <th className="py-1 text-left font-medium">value</th>
            {report.bySource.map((s) => {
              const source = plan.source[s.sourceId];
              return (
                <th key={s.sourceId} className="w-28 font-medium">
                  <span className="inline-flex items-center gap-1.5" title={source?.name}>
                    {source ? <SourceMark letter={source.mark} kind={source.kind} name={source.name} /> : s.sourceId}
                    {s.expected ? s.messages === 0 ? <b className="text-caution">never</b> : '' : <b className="text-caution">unplanned</b>}
                  </span>
                </th>
              );
            })}
            <th className="w-28 font-medium">persons now</th>
          </tr>
        </thead>
        <tbody>
          {report.values.map((v) => (
            <tr key={`${typeof v.value} ${String(v.value)}`} className="border-t border-rule text-right figures">
              <th scope="row" className={`py-1 text-left wire font-medium ${v.planned ? '' : 'text-stop'}`}>
                {String(v.value)}
                {v.planned ? null : <span className="ml-2 font-sans text-sm">not on the plan’s list</span>}
              </th>
              {report.bySource.map((s) => {
                const n = v.bySource.find((x) => x.sourceId === s.sourceId)?.messages ?? 0;
                return (
                  <td key={s.sourceId} className={n === 0 ? 'text-ink-2' : ''}>
                    {n === 0 ? '–' : count(n)}
                  </td>
                );
              })}
              <td>{count(v.persons)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {report.distinct > report.values.length ? (
        <p className="mt-1 text-sm text-ink-2">
          The {report.values.length} most frequent of {count(report.distinct)} values.
        </p>
      ) : null}
    </section>
  );
};

/** Fewer values are groups on their own. */
const MANY = 4;

const Detail = ({ report }: { report: UserPropertyReport }) => {
  const { go } = useWorkplace();
  return (
    <>
      <header className="flex items-start gap-x-4 px-6 pt-3 pb-3">
        <div className="min-w-0">
          <h1 className="truncate wire text-[1.15rem] font-bold">{report.name}</h1>
          <p className={TONE[report.state]}>{sentenceOf(report)}</p>
          <p className="text-sm text-ink-2">
            {plural(report.messages, 'message')} set it, {plural(report.persons, 'person', 'persons')} have a value now,{' '}
            {plural(report.distinct, 'value')}. Messages before it was first set have no value: it never applies backwards.
          </p>
        </div>
        {report.id === undefined ? null : (
          <Button className="ml-auto shrink-0" onClick={() => go(...places.row('userProperty', report.id ?? ''))}>
            Open in the plan
          </Button>
        )}
      </header>
      <Values report={report} />
      {report.numbers.length >= MANY ? <Buckets key={report.name} report={report} /> : null}
    </>
  );
};

export const UserProperties = ({ name }: { name: string }) => {
  const { go } = useWorkplace();
  const { data, error, refetch } = useView('GET /api/user-properties');
  if (error && !data) return <Failed what="The user properties" error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the user properties" />;
  if (data.length === 0)
    return (
      <Empty title="No user property is planned, and none arrived.">
        Plan one in the ledger, or send it with an event or an identify call.
      </Empty>
    );
  const chosen = data.find((r) => r.name === name) ?? data[0]!;
  return (
    <div className="flex min-h-0 flex-1">
      <ul aria-label="User properties" className="w-[232px] shrink-0 overflow-y-auto border-r border-rule py-1">
        {data.map((r) => (
          <li key={r.name}>
            <button
              type="button"
              aria-current={r === chosen}
              onClick={() => go(...places.userProperty(r.name))}
              className={`block w-full px-3 py-1 text-left ${r === chosen ? 'bg-wash' : 'hover:bg-ground'}`}
            >
              <span className="flex gap-2">
                <span className="min-w-0 truncate wire">{r.name}</span>
                <span className="ml-auto text-sm text-ink-2 figures">{count(r.messages)}</span>
              </span>
              <span className={`block text-sm ${TONE[r.state]}`}>{r.swappedFor === undefined ? r.state : 'swapped with its value'}</span>
            </button>
          </li>
        ))}
      </ul>
      <div className="min-w-0 flex-1 overflow-y-auto" tabIndex={-1}>
        <Detail report={chosen} />
      </div>
    </div>
  );
};
