/** Clearance: the seven gates of a question and the signal that they give. */
import type { UnconfirmedGroup } from '../arrival/batch/unconfirmed-attempts';
import { prematureIn } from '../arrival/batch/unconfirmed-attempts';
import { sourcesOf } from '../arrival/seen';
import { waitFor, waitSince, type Wait } from '../arrival/waiting';
import { likeness } from '../naming/likeness';
import { findEvent, settingsOf, type Plan, type Question } from '../plan/plan';
import type { Watch } from '../plan/watch';
import { notKept, notKeptText } from '../questions/not-kept';
import { typedFormula } from '../questions/typed-conditions';
import { coverageOf, lackText, type Need } from '../questions/coverage';
import { wilson } from '../stats/wilson';
import { followingVerdicts } from '../table/following';
import type { MessageTable, Verdict } from '../table/message-table';
import { isInside, PathMap } from '../plan/property-path';

export const GATES = ['planned', 'built', 'settled', 'conforming', 'identified', 'complete', 'fresh'] as const;
export type GateName = (typeof GATES)[number];

/** `open` means: not judged yet. */
export const SIGNALS = ['stop', 'caution', 'clear', 'open'] as const;
export type Signal = (typeof SIGNALS)[number];

export interface Gate {
  readonly gate: GateName;
  readonly signal: Signal;
  /** The evidence as one sentence; names in back quotes. */
  readonly evidence: string;
}

export interface Clearance {
  readonly signal: Signal;
  readonly gates: readonly Gate[];
}

export interface ClearanceContext {
  /** The newest published version; `undefined` when nothing is published. */
  readonly published: { readonly plan: Plan; readonly number: number; readonly publishedAt: number; readonly watch: Watch } | undefined;
  readonly table: MessageTable;
  readonly reconciled: readonly UnconfirmedGroup[];
  /** How many of the recorded messages that version has judged, while it has not judged all. */
  readonly recheck?: { readonly done: number; readonly of: number } | undefined;
  /** UTC epoch ms. */
  readonly now: number;
}

const percent = (share: number): string => `${(Math.floor(share * 1000) / 10).toFixed(1)} %`;
const thousands = (n: number): string => n.toLocaleString('en-GB');

/** The worst of the gates that are judged; only when all are judged and raised is the question clear. */
export const worstOf = (gates: readonly { readonly signal: Signal }[]): Signal =>
  gates.some((g) => g.signal === 'stop')
    ? 'stop'
    : gates.some((g) => g.signal === 'caution')
      ? 'caution'
      : gates.some((g) => g.signal === 'open')
        ? 'open'
        : 'clear';

const planned = (question: Question, c: ClearanceContext): Gate => {
  const gate = 'planned';
  if (!c.published) return { gate, signal: 'open', evidence: 'No version of the plan is published yet.' };
  const coverage = coverageOf(c.published.plan, question);
  const version = `version ${c.published.number}`;
  if (coverage.state === 'undefined') return { gate, signal: 'open', evidence: `The formula is not complete: ${coverage.reason}.` };
  if (coverage.state === 'partly')
    return {
      gate,
      signal: 'stop',
      evidence: `In ${version}, ${coverage.lacks.map(lackText).join('; ')}. Publish the plan once it is added.`,
    };
  const lost = notKept(c.table, question);
  if (lost.length > 0) return { gate, signal: 'stop', evidence: notKeptText(lost) };
  const { problems } = typedFormula(c.published.plan, question.formula!);
  if (problems.length > 0) return { gate, signal: 'stop', evidence: `A condition cannot hold: ${problems.join(' ')}` };
  return {
    gate,
    signal: 'clear',
    evidence: `All that it needs is in ${version}: ${coverage.needs.map((n) => `\`${n.eventName}\``).join(', ')}.`,
  };
};

const built = (needs: readonly Need[], c: ClearanceContext): Gate => {
  const gate = 'built';
  if (!c.published || needs.length === 0) return { gate, signal: 'open', evidence: 'Nothing is planned to judge by.' };
  const { plan, publishedAt, watch } = c.published;
  const missing: string[] = [];
  const seen: string[] = [];
  const waits: Wait[] = [];
  for (const need of needs) {
    const [eventId = '', event] = findEvent(plan, need.eventName) ?? [];
    const counts = sourcesOf(c.table, event?.name ?? need.eventName);
    const required = event?.sources.filter((s) => s.required && s.build !== 'retired') ?? [];
    if (required.length === 0 && counts.size === 0) {
      missing.push(`nobody has sent \`${need.eventName}\``);
      waits.push(waitSince(plan, publishedAt, c.now));
    }
    for (const s of required) {
      const name = plan.source[s.sourceId]?.name ?? s.sourceId;
      if (counts.has(s.sourceId)) continue;
      missing.push(`${name} has never sent \`${need.eventName}\``);
      waits.push(waitFor({ plan, table: c.table, watch, now: c.now }, eventId, s.sourceId) ?? waitSince(plan, publishedAt, c.now));
    }
    for (const [sourceId, n] of counts)
      seen.push(`${plan.source[sourceId]?.name ?? sourceId} ${thousands(n.messages)} × \`${need.eventName}\``);
  }
  if (missing.length === 0) return { gate, signal: 'clear', evidence: `Every required source has sent: ${seen.join(', ')}.` };
  const first = missing[0]!;
  const sentence = `${first[0]!.toUpperCase()}${first.slice(1)}${missing.length > 1 ? `, and ${missing.length - 1} more` : ''}`;
  if (!waits.some((w) => w.state === 'fault'))
    return { gate, signal: 'open', evidence: `${sentence}; too soon to judge until ${settingsOf(plan).escalationHours} hours are over.` };
  return { gate, signal: 'stop', evidence: `${sentence}.` };
};

/** Whether a finding touches what the formula uses of a message: a used property, an object that it stands in or what it holds itself, or an
 *  identifier.
 */
const touches = (path: readonly (string | number)[], used: PathMap<true>): boolean => {
  if (path[0] !== 'properties') return path[0] === 'ids';
  const at = path.slice(1).map(String);
  for (const ref of used.keys()) if (isInside(ref, at) || isInside(at, ref)) return true;
  return false;
};

/** Index of an event's name → what was found on messages of it → how many. Messages on which the same was found share the list of it. */
const countsByVerdicts = followingVerdicts(
  () => new Map<number, Map<readonly Verdict[], number>>(),
  (state, table, from, to) => {
    for (const row of table.judgedRows(from)) {
      if (row >= to) break;
      const name = table.name.get(row);
      if (name < 0) continue;
      const verdicts = table.verdicts.get(row)!;
      let ofName = state.get(name);
      if (!ofName) state.set(name, (ofName = new Map()));
      ofName.set(verdicts, (ofName.get(verdicts) ?? 0) + 1);
    }
  },
);

const conforming = (question: Question, needs: readonly Need[], c: ClearanceContext): Gate => {
  const gate = 'conforming';
  const { table } = c;
  if (c.recheck)
    return {
      gate,
      signal: 'open',
      evidence: `${thousands(c.recheck.done)} of ${thousands(c.recheck.of)} recorded messages are checked against the newest version so far.`,
    };
  let [trials, twins, faulty, premature, both] = [0, 0, 0, 0, 0];
  // What several needs say of one event is one.
  const usedOf = new Map<string, PathMap<true>>();
  for (const need of needs) {
    let used = usedOf.get(need.eventName);
    if (!used) usedOf.set(need.eventName, (used = new PathMap()));
    for (const p of need.properties) used.add(p.name, true);
  }
  const early = c.published ? prematureIn(c.published.plan, c.reconciled) : [];
  for (const [eventName, used] of usedOf) {
    for (const twin of table.names.values) if (likeness(twin, eventName) === 'same but for case') twins += table.rowsOf(twin).length;
    trials += table.rowsOf(eventName).length;
    const isFaulty = (verdicts: readonly Verdict[] | undefined): boolean => verdicts?.some((v) => touches(v.path, used)) ?? false;
    for (const [verdicts, n] of countsByVerdicts(table).get(table.names.find(eventName)) ?? []) if (isFaulty(verdicts)) faulty += n;
    for (const g of early) {
      if (g.params.eventName !== eventName) continue;
      premature += g.rows.length;
      for (const row of g.rows) if (isFaulty(table.verdicts.get(row))) both++;
    }
  }
  trials += twins;
  if (trials === 0) return { gate, signal: 'open', evidence: 'No message of these events has arrived yet.' };
  const bad = twins + faulty + premature - both;
  const { low } = wilson(trials - bad, trials)!;
  const { clear, caution } = question.thresholds;
  const reasons = [
    ...(twins > 0 ? [`${thousands(twins)} under another spelling`] : []),
    ...(faulty > 0 ? [`${thousands(faulty)} with a faulty field`] : []),
    ...(premature > 0 ? [`${thousands(premature)} sent before the outcome was known`] : []),
  ];
  const asked = `${percent((trials - bad) / trials)} of ${thousands(trials)} messages conform, at least ${percent(low)} with 95 % confidence; ${percent(clear)} asked`;
  return {
    gate,
    signal: low >= clear ? 'clear' : low >= caution ? 'caution' : 'stop',
    evidence: `${asked}${reasons.length > 0 ? `. Not conforming: ${reasons.join(', ')}` : ''}.`,
  };
};

const NOT_YET = 'Not judged yet: this product does not judge this gate so far.';

/** The gates of a question, in their order, and the signal.
 *  Shape: seven gates; those not judged are `open` with the reason. A question with judged gates all raised and others open is
 *  `open`, never `clear`: no gate is guessed.
 *  Source: Wilson interval for the conforming share (see stats/wilson); thresholds are the question's own.
 */
export const clearanceOf = (question: Question, c: ClearanceContext): Clearance => {
  const coverage = c.published ? coverageOf(c.published.plan, question) : undefined;
  const needs = coverage && coverage.state !== 'undefined' ? coverage.needs : [];
  const gates: Gate[] = [
    planned(question, c),
    built(needs, c),
    { gate: 'settled', signal: 'open', evidence: NOT_YET },
    conforming(question, needs, c),
    { gate: 'identified', signal: 'open', evidence: NOT_YET },
    { gate: 'complete', signal: 'open', evidence: NOT_YET },
    { gate: 'fresh', signal: 'open', evidence: NOT_YET },
  ];
  return { signal: worstOf(gates), gates };
};
