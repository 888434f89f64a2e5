/** A run of a trial, step by step: what is expected beside what was received. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Check, Circle, Download, Hourglass, Minus, X } from 'lucide-react';
import { useEffect, useState, useSyncExternalStore } from 'react';
import { ask } from '../../../client/api';
import { refText } from '../../../core/plan/property-path';
import { settingsOf } from '../../../core/plan/plan';
import { isAbandoned, testerText, type TrialRunView } from '../../../core/trial/trial-run';
import type { TrialMessage } from '../../../core/trial/run';
import type { ExpectedVerdict, Misfit, StepState, StepVerdict, Tried, TrialVerdict } from '../../../core/trial/verdict-shape';
import { Button } from '../../../ui/Button';
import { Cancel, OpenForm } from '../../../ui/OpenForm';
import { instantText, timeText } from '../../../ui/format';
import { Rich } from '../../../ui/Rich';
import { SourceMark } from '../../../ui/SourceMark';
import { Failed, Loading } from '../../../ui/States';
import { toast } from '../../../ui/toast';
import { useNow } from '../../../ui/use-now';
import { usePlan, useWorkplace } from '../../workplace/context';
import { timesText } from './step-edits';

const EVERY_MS = 1500;

const STATE: Readonly<Record<StepState, { readonly icon: typeof Check; readonly tone: string; readonly word: string }>> = {
  'not begun': { icon: Circle, tone: 'text-ink-2', word: 'not begun' },
  waiting: { icon: Hourglass, tone: 'text-accent', word: 'waiting' },
  passed: { icon: Check, tone: 'text-clear', word: 'passed' },
  failed: { icon: X, tone: 'text-stop', word: 'failed' },
  gap: { icon: X, tone: 'text-stop', word: 'gap: nothing came of it' },
  skipped: { icon: Minus, tone: 'text-ink-2', word: 'skipped' },
  'not judged': { icon: Minus, tone: 'text-ink-2', word: 'not judged' },
};

const RUN_TONE: Readonly<Record<TrialVerdict['state'], string>> = {
  'not begun': 'text-ink-2',
  running: 'text-accent',
  passed: 'text-clear',
  failed: 'text-stop',
  incomplete: 'text-caution',
};

const Came = ({ m }: { m: TrialMessage }) => {
  const plan = usePlan();
  const source = plan.source[m.sourceId];
  return (
    <span className="flex flex-wrap items-center gap-x-2 text-sm">
      {source ? <SourceMark letter={source.mark} kind={source.kind} name={source.name} /> : null}
      <span className="wire">{m.kind === 'event' ? m.name : m.kind}</span>
      <span className="text-ink-2" title={instantText(m.receivedAt)}>
        {timeText(m.receivedAt, settingsOf(plan).timeZone)}
      </span>
      {m.release ? <span className="text-ink-2">release {m.release}</span> : null}
      <span className="wire text-ink-2">
        {Object.entries(m.ids)
          .map(([k, v]) => `${k} ${v}`)
          .join(', ')}
      </span>
    </span>
  );
};

const MisfitLine = ({ m }: { m: Misfit }) => (
  <p className="border-l-4 border-stop pl-2">
    <Rich text={m.sentence} />
    {m.what === 'finding' ? null : (
      <span className="block text-sm text-ink-2">
        expected <Rich text={m.expected} />; received <Rich text={m.received} />
      </span>
    )}
  </p>
);

const ExpectedLine = ({ e }: { e: ExpectedVerdict }) => {
  const plan = usePlan();
  const { sources, ids } = e.expected;
  return (
    <div className="grid grid-cols-2 gap-x-4 border-t border-rule py-1">
      <div>
        <span className="wire font-medium">{e.expected.event}</span> <span className="text-sm text-ink-2">{timesText(e.expected)}</span>
        {sources.length > 0 ? (
          <span className="block text-sm text-ink-2">from {sources.map((id) => plan.source[id]?.name ?? id).join(' or ')}</span>
        ) : null}
        {ids.length > 0 ? (
          <span className="block text-sm text-ink-2">
            with <span className="wire">{ids.join(', ')}</span>
          </span>
        ) : null}
        {e.expected.values.map((v) => (
          <span key={refText(v.property)} className="block text-sm text-ink-2">
            <span className="wire">{refText(v.property)}</span>{' '}
            {v.wanted.is === 'exactly'
              ? `is ${v.wanted.value}`
              : v.wanted.is === 'like'
                ? `is like ${v.wanted.pattern}`
                : v.wanted.is === 'remembered'
                  ? `is ${v.wanted.as}`
                  : 'is there'}
          </span>
        ))}
      </div>
      <div>
        {e.messages.length === 0 ? (
          <span className="text-sm text-ink-2">nothing yet</span>
        ) : (
          e.messages.map((m, i) => (
            <div key={m.seq}>
              <Came m={m} />
              {e.received?.[i] ? (
                <span className="block text-sm">
                  <Rich text={e.received[i]} />
                </span>
              ) : null}
            </div>
          ))
        )}
        {e.misfits.map((m, i) => (
          <MisfitLine key={i} m={m} />
        ))}
      </div>
    </div>
  );
};

const Step = ({
  s,
  now,
  number,
  ended,
  busy,
  onMark,
}: {
  s: StepVerdict;
  now: number;
  number: number;
  ended: boolean;
  busy: boolean;
  onMark: (step: string, skipped?: string) => void;
}) => {
  const [skipping, setSkipping] = useState(false);
  const [why, setWhy] = useState('');
  const { icon: Icon, tone, word } = STATE[s.state];
  const left = s.state === 'waiting' && s.until !== undefined ? Math.max(0, Math.ceil((s.until - now) / 1000)) : 0;
  return (
    <li aria-label={`Step ${number}`} className="border-t border-ink py-2">
      <div className="flex flex-wrap items-baseline gap-2">
        <b className="w-5 text-right text-ink-2">{number}</b>
        <span className="min-w-0 flex-1 font-medium">
          <Rich text={s.does} />
        </span>
        <span role="status" className={`flex items-center gap-1 self-center font-semibold ${tone}`}>
          <Icon size={15} aria-hidden /> {word}
          {left > 0 ? ` ${left} s` : ''}
        </span>
        {ended ? null : (
          <span className="flex gap-1 self-center">
            <Button className="text-sm" look={s.from === undefined ? 'full' : 'plain'} disabled={busy} onClick={() => onMark(s.step)}>
              {s.from === undefined ? 'Begin' : 'Do it again'}
            </Button>
            {s.from === undefined ? (
              <Button className="text-sm" look="quiet" onClick={() => setSkipping(!skipping)}>
                Skip …
              </Button>
            ) : null}
          </span>
        )}
      </div>
      {skipping && s.from === undefined ? (
        <OpenForm
          onClose={() => setSkipping(false)}
          className="mt-1 ml-7 flex gap-2"
          onSubmit={() => {
            if (why.trim() !== '') onMark(s.step, why.trim());
          }}
        >
          <input
            autoFocus
            aria-label={`Why step ${number} is skipped`}
            placeholder="Why is it skipped?"
            value={why}
            onChange={(e) => setWhy(e.target.value)}
            className="flex-1 border border-rule bg-transparent px-1.5"
          />
          <Button type="submit" className="text-sm">
            Skip step
          </Button>
          <Cancel />
        </OpenForm>
      ) : null}
      <div className="mt-1 ml-7">
        {s.reason === '' ? null : <p className="text-ink-2">{s.reason}</p>}
        {s.expected.map((e, i) => (
          <ExpectedLine key={i} e={e} />
        ))}
        {s.forbidden.map((m, i) => (
          <MisfitLine key={i} m={m} />
        ))}
        {s.remarks.map((r) => (
          <p key={r} className="border-l-4 border-caution-fill pl-2">
            <Rich text={r} />
          </p>
        ))}
        {s.besides.filter((m) => m.kind === 'event').length > 0 ? (
          <details className="text-sm text-ink-2">
            <summary>{s.besides.filter((m) => m.kind === 'event').length} came besides</summary>
            {s.besides.map((m) => (
              <Came key={m.seq} m={m} />
            ))}
          </details>
        ) : null}
      </div>
    </li>
  );
};

const DOWNLOAD = 'inline-flex min-h-[24px] items-center gap-1 font-semibold text-accent hover:bg-wash px-1';

export const TrialRun = ({ runId, onClose }: { runId: string; onClose: () => void }) => {
  const { live } = useWorkplace();
  const queries = useQueryClient();
  const { arrived } = useSyncExternalStore(live.subscribe, live.snapshot, live.snapshot);
  const [busy, setBusy] = useState(false);
  const key = ['trial-run', runId];
  const { data, dataUpdatedAt, error, refetch } = useQuery<TrialRunView>({
    queryKey: key,
    queryFn: ({ signal }) => ask('POST /api/trial-run', { body: { id: runId } }, signal),
    refetchInterval: (q) => (q.state.data?.run.endedAt == null ? EVERY_MS : false),
  });
  useEffect(() => {
    if (arrived > 0) void refetch();
  }, [arrived, refetch]);
  const now = useNow();
  const plan = usePlan();
  const { timeZone } = settingsOf(plan);
  if (error && !data) return <Failed what="The run" error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the run" />;
  const { run, verdict, warnings, facts } = data;
  const ended = run.endedAt !== null;
  const mark = (step: string, skipped?: string): void => {
    setBusy(true);
    void ask('POST /api/trial-marks', { body: { id: runId, step, ...(skipped === undefined ? {} : { skipped }) } })
      .then(
        (next) => queries.setQueryData(key, next),
        (e: unknown) => toast.error((e as Error).message),
      )
      .finally(() => setBusy(false));
  };
  const { baseline } = verdict;
  const tried = (all: readonly Tried[]): string =>
    all.map((v) => `${v.event} (${plan.source[v.sourceId]?.name ?? v.sourceId}${v.release === '' ? '' : ` ${v.release}`})`).join(', ');
  return (
    <div className="px-6 py-4">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h1 className="text-[1.4rem] leading-tight font-bold">{run.script.name}</h1>
        <b role="status" aria-label="State of the run" className={RUN_TONE[verdict.state]}>
          {verdict.state}
        </b>
        {isAbandoned(run, now) ? <span className="text-caution">abandoned: nobody touched it for two hours</span> : null}
        <Button look="quiet" className="ml-auto text-sm" onClick={onClose}>
          Back to the script
        </Button>
      </div>
      <p className="border-y border-rule bg-wash px-2 py-1">
        Only <b className="wire">{testerText(run.tester)}</b> in <b>{run.environment}</b>, by{' '}
        {run.rules === 'draft' ? 'the draft' : `version ${run.planVersion}`}; run by {run.author} since{' '}
        <span title={instantText(run.startedAt)}>{timeText(run.startedAt, timeZone)}</span>
      </p>
      {warnings.map((w) => (
        <p key={w} className="mt-1 border-l-4 border-caution-fill pl-2">
          {w}
        </p>
      ))}
      {ended ? (
        <section aria-label="Evidence" className="mt-2">
          {facts.map((f) => (
            <p key={f} className="text-sm text-ink-2">
              {f}
            </p>
          ))}
          <p className="mt-1 flex flex-wrap gap-2">
            {(
              [
                ['md', 'Markdown'],
                ['junit', 'JUnit'],
                ['ndjson', 'Messages, for the build check'],
              ] as const
            ).map(([format, title]) => (
              <a key={format} className={DOWNLOAD} href={`/api/trial-evidence?id=${runId}&format=${format}`} download>
                <Download size={14} /> {title}
              </a>
            ))}
          </p>
          {verdict.verified.length > 0 && warnings.every((w) => !w.startsWith('Not published')) ? (
            <p className="text-clear">Verified: {tried(verdict.verified)}</p>
          ) : null}
          {(verdict.refuted ?? []).length > 0 ? (
            <p className="text-stop">No longer verified, should it have been: {tried(verdict.refuted ?? [])}</p>
          ) : null}
        </section>
      ) : (
        <div className="mt-2 flex flex-wrap items-center gap-2">
          {baseline === undefined && run.marks.length === 0 ? (
            <>
              <Button className="text-sm" disabled={busy} onClick={() => mark('baseline')}>
                Record a baseline
              </Button>
              <span className="text-sm text-ink-2">Before it is built: do it once. None of the events may come yet.</span>
            </>
          ) : baseline === undefined ? null : (
            <span
              role="status"
              aria-label="Baseline"
              className={baseline.state === 'already fires' ? 'text-stop' : baseline.state === 'clean' ? 'text-clear' : 'text-accent'}
            >
              Baseline: {baseline.state}
            </span>
          )}
          <Button className="ml-auto text-sm" disabled={busy || run.marks.length === 0} onClick={() => mark('end')}>
            End the run
          </Button>
        </div>
      )}
      {baseline?.misfits.map((m, i) => (
        <MisfitLine key={i} m={m} />
      ))}
      <ol className="mt-3">
        {verdict.steps.map((s, i) => (
          <Step key={s.step} s={s} now={dataUpdatedAt} number={i + 1} ended={ended} busy={busy} onMark={mark} />
        ))}
      </ol>
    </div>
  );
};
