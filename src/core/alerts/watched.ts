/** What alerts come of: the state of everything that they watch, at a moment. Of two such states what happened in between is told. */
import type { FollowUp } from '../arrival/follow-ups';
import type { IntakeTotals } from '../arrival/intake-totals';
import type { TriagedFinding } from '../arrival/triage';
import { whoFixes } from '../arrival/who-fixes';
import type { QuestionClearance } from '../clearance/question-clearance';
import type { Signal } from '../clearance/gate';
import type { Severity } from '../findings/severity';
import { limitsOf, WARN_FROM } from '../plan/limits';
import { entries, type Id, type Plan, type Question } from '../plan/plan';
import { eventNamed } from '../plan/plan-index';
import { needsOf } from '../questions/coverage';
import { HOUR_MS } from '../time';

/** What something concerns: by it rules choose. Names of events and sources, IDs of questions, owners by name. */
export interface Concerns {
  readonly questions: readonly Id[];
  readonly events: readonly string[];
  readonly sources: readonly Id[];
  readonly owners: readonly string[];
}

export interface WatchedQuestion extends Concerns {
  readonly text: string;
  /** The last one that was judged: a question that waits to be judged neither fell nor rose. */
  readonly signal: Exclude<Signal, 'open'> | null;
  /** Why, in a sentence. */
  readonly says: string;
  /** Gates that somebody answers for; not there in what was kept before it was watched. */
  readonly waived?: readonly WatchedWaiver[] | undefined;
}

export interface WatchedWaiver {
  readonly gate: string;
  /** What the gate says by itself. */
  readonly from: Signal;
  readonly author: string;
  readonly reason: string;
  /** UTC epoch ms. */
  readonly at: number;
  readonly until: number;
}

export interface WatchedFinding extends Concerns {
  readonly code: string;
  readonly title: string;
  readonly sentence: string;
  readonly severity: Severity;
  /** `gone`: it was found before, and is found no longer. */
  readonly state: TriagedFinding['state'] | 'gone';
  readonly releases: readonly string[];
}

export interface WatchedThing extends Concerns {
  readonly says: string;
}

/** As JSON: it is kept between two looks. */
export interface Watched {
  readonly questions: Readonly<Record<Id, WatchedQuestion>>;
  readonly findings: Readonly<Record<string, WatchedFinding>>;
  /** Limits with too little room. */
  readonly limits: Readonly<Record<string, WatchedThing>>;
  /** Follow-ups that are due. */
  readonly followUps: Readonly<Record<string, WatchedThing>>;
  /** By source; '' for those with no valid key. Messages rejected up to when it was told last, and when that was: what goes on is told once an hour. */
  readonly rejected: Readonly<Record<Id, { readonly told: number; readonly at: number }>>;
}

export interface Observed {
  readonly plan: Plan;
  readonly clearances: readonly QuestionClearance[];
  readonly findings: readonly TriagedFinding[];
  readonly followUps: readonly FollowUp[];
  readonly intake: readonly IntakeTotals[];
}

const only = <T>(list: readonly (T | undefined | '')[]): T[] => [...new Set(list.filter((x): x is T => x !== undefined && x !== ''))];

/** Which questions ask for an event: looked up once for all that is watched. */
type Asking = ReadonlyMap<string, readonly Id[]>;
const askingOf = (plan: Plan): Asking => {
  const asking = new Map<string, Id[]>();
  for (const [id, q] of entries(plan, 'question'))
    for (const { eventName } of needsOf(q)) asking.set(eventName, [...(asking.get(eventName) ?? []), id]);
  return asking;
};

const concernsOfEvents = (plan: Plan, asking: Asking, events: readonly string[], sourceId?: Id): Concerns => {
  const planned = events.flatMap((n) => eventNamed(plan, n)?.[1] ?? []);
  const sources = sourceId === undefined || sourceId === '' ? planned.flatMap((e) => e.sources.map((s) => s.sourceId)) : [sourceId];
  return {
    questions: only(events.flatMap((e) => asking.get(e) ?? [])),
    events,
    sources: only(sources),
    owners: only([...planned.map((e) => e.owner), ...sources.map((s) => plan.source[s]?.owner)]),
  };
};

/** A question concerns itself and its owner, the events that it asks for, and the sources that send them. */
export const concernsOfQuestion = (plan: Plan, id: Id, question: Question): Concerns => ({
  ...concernsOfEvents(plan, new Map(), needsOf(question).map((n) => n.eventName)), // prettier-ignore
  questions: [id],
  owners: only([question.owner]),
});

const byId = <V>(list: readonly (readonly [string, V])[]): Record<string, V> => Object.fromEntries(list);

/** So many findings that are gone are remembered, the newest: one that comes back opens again, rather than anew. */
const MAX_GONE = 5000;

/** The state now. `before`: the one that was kept, from which what cannot be seen now is carried on. `now`: UTC epoch ms. */
export const watchedNow = (o: Observed, before: Watched | undefined, now: number): Watched => {
  const { plan } = o;
  const asking = askingOf(plan);
  const questions = o.clearances.flatMap((c): [string, WatchedQuestion][] => {
    const q = plan.question[c.questionId];
    if (!q) return [];
    const worst = c.gates.find((g) => g.signal === c.signal);
    return [
      [
        c.questionId,
        {
          text: q.text,
          ...concernsOfQuestion(plan, c.questionId, q),
          signal: c.signal === 'open' ? (before?.questions[c.questionId]?.signal ?? null) : c.signal,
          says: worst && c.signal !== 'clear' ? `${worst.gate}: ${worst.brief ?? worst.evidence}` : '',
          waived: c.gates.flatMap(({ gate, waived: w }) =>
            w ? [{ gate, from: w.from, author: w.author, reason: w.reason, at: w.at, until: w.until }] : [],
          ),
        },
      ],
    ];
  });
  const findings = byId(
    o.findings
      .filter((g) => g.severity !== 'note')
      .map((g): [string, WatchedFinding] => {
        const concerns = concernsOfEvents(plan, asking, g.touches, g.sourceId);
        const { code, title, sentence, severity, state, releases } = g;
        return [
          g.key,
          { ...concerns, owners: only([...concerns.owners, whoFixes(plan, g)]), code, title, sentence, severity, state, releases },
        ];
      }),
  );
  const gone = Object.entries(before?.findings ?? {}).flatMap(([key, f]): [string, WatchedFinding][] =>
    findings[key] ? [] : [[key, { ...f, state: 'gone' }]],
  );
  return {
    questions: byId(questions),
    findings: { ...byId(gone.slice(-MAX_GONE)), ...findings },
    limits: byId(
      limitsOf(plan).flatMap((l): [string, WatchedThing][] =>
        l.limit > 0 && l.used > WARN_FROM * l.limit
          ? [[l.key, { questions: [], events: [], sources: [], owners: [], says: `${l.used} of ${l.limit} ${l.what} are used.` }]]
          : [],
      ),
    ),
    followUps: byId(
      o.followUps.flatMap((f): [string, WatchedThing][] =>
        f.state === 'due'
          ? [
              [
                `${f.key} ${f.due}`,
                { ...concernsOfEvents(plan, asking, f.eventName === '' ? [] : [f.eventName], f.sourceId), says: f.text },
              ],
            ]
          : [],
      ),
    ),
    rejected: Object.fromEntries(
      o.intake.map((t) => {
        const was = before?.rejected[t.sourceId] ?? { told: before ? 0 : t.rejected, at: 0 };
        return [t.sourceId, t.rejected > was.told && now - was.at >= HOUR_MS ? { told: t.rejected, at: now } : was];
      }),
    ),
  };
};
