/** One finding: since when, where, how much, why, who fixes it, and examples. */
import { Age } from '../../ui/Age';
import { SEVERITY_FILL } from '../../ui/severity-tone';
import { useQuery } from '@tanstack/react-query';
import { BookOpen, Copy, X } from 'lucide-react';
import { useState } from 'react';
import { toast } from '../../ui/toast';
import { MAX_ROWS } from '../../core/arrival/check-many';
import { excerptOf } from '../../core/arrival/excerpt';
import { shownOf } from '../../core/arrival/words';
import type { LiveMessage } from '../../core/arrival/live-message';
import type { TriagedFinding } from '../../core/arrival/triage';
import { definitionNamed } from '../../core/definitions/planned';
import { definitionFor } from '../../core/definitions/offered';
import { whoFixes } from '../../core/arrival/who-fixes';
import { findingTicket } from '../../core/formats/finding-ticket';
import { settingsOf } from '../../core/plan/plan';
import { eventNamed } from '../../core/plan/plan-index';
import { questionsServedBy } from '../../core/questions/coverage';
import { count, dayText, instantText, percent } from '../../ui/format';
import { Bars } from '../../ui/Bars';
import { Button } from '../../ui/Button';
import { Rich } from '../../ui/Rich';
import { ask } from '../../client/api';
import { usePlan, useWorkplace } from '../workplace/context';
import { places } from '../workplace/place';
import { Triage } from './Triage';

const useSamples = (group: TriagedFinding) =>
  useQuery({
    queryKey: ['samples', group.samples],
    queryFn: ({ signal }) => ask('GET /api/messages', { query: { seq: group.samples.join(',') } }, signal),
    enabled: group.samples.length > 0,
  });

const TICKET_SAMPLES = 2;

/** Where the fix goes on: the ticket's text, and the event in the plan. */
const Onwards = ({ group, questions }: { group: TriagedFinding; questions: readonly string[] }) => {
  const plan = usePlan();
  const { go, store } = useWorkplace();
  const { data } = useSamples(group);
  const event = group.eventName === '' ? undefined : eventNamed(plan, group.eventName);
  const copy = async (): Promise<void> => {
    const bodies = (data ?? []).slice(0, TICKET_SAMPLES).map((m) => m.body);
    await navigator.clipboard.writeText(findingTicket(plan, group, bodies, questions));
    toast('Ticket copied.');
  };
  const definition = definitionNamed(plan, group.eventName);
  const offered = definitionFor(plan, group, () => crypto.randomUUID());
  const define = (): void => {
    if (offered && store.apply(offered.edits, offered.text)) go(...places.opened('definition', offered.id));
  };
  return (
    <>
      {offered ? (
        <Button className="text-sm" onClick={define}>
          {offered.text}
        </Button>
      ) : null}
      <Button className="text-sm" onClick={() => void copy()}>
        <Copy size={14} /> Copy ticket
      </Button>
      {event ? (
        <Button look="quiet" className="text-sm" onClick={() => go(...places.row('event', event[0]))}>
          Open event
        </Button>
      ) : null}
      {definition ? (
        <Button look="quiet" className="text-sm" onClick={() => go(...places.opened('definition', definition[0]))}>
          Open definition
        </Button>
      ) : null}
      <Button look="quiet" className="text-sm" onClick={() => go(...places.row('arrival-checks', group.code))}>
        Check settings
      </Button>
    </>
  );
};

const Samples = ({ group, onChoose }: { group: TriagedFinding; onChoose: (m: LiveMessage) => void }) => {
  const { timeZone } = settingsOf(usePlan());
  const [all, setAll] = useState(false);
  const few = useSamples(group).data;
  const { data: many, error } = useQuery({
    queryKey: ['finding-messages', group.key],
    queryFn: ({ signal }) => ask('GET /api/finding-messages', { query: { key: group.key } }, signal),
    enabled: all,
  });
  const data = (all ? many : undefined) ?? few;
  return (
    <div>
      {data?.map((m) => (
        <button
          key={m.seq}
          type="button"
          onClick={() => onChoose(m)}
          className="flex w-full items-baseline gap-3 border-b border-rule py-1 text-left hover:bg-ground"
        >
          <span className="w-16 shrink-0 text-sm whitespace-nowrap text-ink-2 figures" title={instantText(m.receivedAt)}>
            {dayText(m.receivedAt, timeZone)}
          </span>
          <span className="truncate wire">{excerptOf(shownOf(group.code), m)}</span>
        </button>
      ))}
      {error ? <p className="pt-1 text-stop">{error.message}</p> : null}
      {few && group.count > few.length && !many ? (
        <Button look="quiet" className="mt-1 -ml-2 text-sm" disabled={all && !error} onClick={() => setAll(true)}>
          {group.count <= MAX_ROWS ? `Show all ${count(group.count)}` : `Show the newest ${count(MAX_ROWS)} of ${count(group.count)}`}
        </Button>
      ) : null}
    </div>
  );
};

/** The last four weeks, a bar a day; the last one is not over. */
const Trend = ({ counts }: { counts: readonly number[] }) => (
  <p className="mt-2 flex items-end gap-3 text-sm text-ink-2">
    <Bars bars={counts.map((n) => ({ value: n, title: count(n) }))} label={`Messages of each of the last ${counts.length} days`} running />
    each day of four weeks, at most {count(Math.max(...counts))}
  </p>
);

/** Leads to what the check looks at, and what it lets pass. */
const Judged = ({ code }: { code: string }) => (
  <a
    href={`/reference#${code}`}
    target="_blank"
    rel="noreferrer"
    className="inline-flex min-h-[26px] items-center gap-1 text-sm font-semibold text-accent underline decoration-dotted"
  >
    <BookOpen size={14} /> How it is judged
  </a>
);

export const FindingBench = ({
  group,
  onChoose,
  onClose,
}: {
  group: TriagedFinding;
  onChoose: (m: LiveMessage) => void;
  onClose: () => void;
}) => {
  const plan = usePlan();
  const { go } = useWorkplace();
  const { timeZone } = settingsOf(plan);
  const source = plan.source[group.sourceId];
  const questions = [...new Map(group.touches.flatMap((name) => questionsServedBy(plan, name)))];
  return (
    <article aria-label="Finding" className="min-h-0 flex-1 overflow-y-auto px-6 py-4">
      <p className="flex items-center gap-2 pr-6 text-sm">
        <span className={`size-2.5 rotate-45 ${SEVERITY_FILL[group.severity]}`} />
        <b className={group.severity === 'stop' ? 'text-stop' : 'text-caution'}>{group.severity}</b> {group.title}
        <button type="button" className="ml-auto flex items-center gap-1 font-semibold text-accent" onClick={onClose}>
          <X size={14} /> Close
        </button>
      </p>
      <h1 className="mt-1 text-[1.2rem] leading-snug font-bold">
        <Rich text={group.sentence} />
      </h1>
      {group.spread ? <p className="mt-1 border-l-4 border-caution-fill pl-3">{group.spread}</p> : null}
      <p className="mt-1">
        <b>{count(group.count)}</b> of {count(group.outOf)} messages ({percent(group.outOf > 0 ? group.count / group.outOf : undefined)})
        from {source?.name ?? group.sourceId}
        {group.releases.filter(Boolean).length > 0 ? (
          <>
            , release <span className="wire">{group.releases.filter(Boolean).join(', ')}</span>
          </>
        ) : null}
        ; since <span title={instantText(group.firstAt)}>{dayText(group.firstAt, timeZone)}</span>, last{' '}
        <span title={instantText(group.lastAt)}>
          <Age at={group.lastAt} />
        </span>
        .
      </p>
      {group.trend?.some((n) => n > 0) ? <Trend counts={group.trend} /> : null}
      <dl className="mt-2 grid grid-cols-[78px_1fr] gap-y-1">
        <dt className="font-bold">Expected</dt>
        <dd className="grid grid-cols-2 gap-4">
          <span>
            <Rich text={group.expected} />
          </span>
          <span>
            <b className="mr-2">Received</b>
            <Rich text={group.received} />
          </span>
        </dd>
        <dt className="font-bold">Cause</dt>
        <dd>{group.cause}</dd>
        <dt className="font-bold">Fix</dt>
        <dd>
          <Rich text={group.fix} />
        </dd>
        <dt className="font-bold">Who</dt>
        <dd>{whoFixes(plan, group)}</dd>
        {questions.length > 0 ? (
          <>
            <dt className="font-bold">Affects</dt>
            <dd>
              {questions.map(([id, q], i) => (
                <span key={id}>
                  {i > 0 ? '; ' : ''}
                  <button
                    type="button"
                    className="min-h-[24px] text-accent underline decoration-dotted"
                    onClick={() => go(...places.clearance(id))}
                  >
                    {q.text}
                  </button>
                </span>
              ))}
            </dd>
          </>
        ) : null}
      </dl>
      <div className="mt-2 flex flex-wrap gap-2">
        <Onwards group={group} questions={questions.map(([, q]) => q.text)} />
        <Triage key={group.key} group={group} owner={source?.owner ?? ''} />
        <Judged code={group.code} />
      </div>
      {group.samples.length > 0 ? (
        <>
          <h2 className="mt-3 mb-1 text-sm font-bold">Newest examples</h2>
          <Samples key={group.key} group={group} onChoose={onChoose} />
        </>
      ) : null}
    </article>
  );
};
