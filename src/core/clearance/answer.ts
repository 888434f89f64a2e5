/** What somebody reads who only wants the answer: the figure, whether it may be relied on, what it means, what to use and what to leave alone. */
import { whoFixes } from '../arrival/who-fixes';
import type { FindingGroup } from '../arrival/finding-group';
import { definitionText } from '../definitions/text';
import { rawNeeds } from '../definitions/planned';
import { likeness } from '../naming/likeness';
import { entries, type Id, type Plan, type Question } from '../plan/plan';
import { eventNamed } from '../plan/plan-index';
import { refOfProperty, refText, sameRef } from '../plan/property-path';
import { needsOf } from '../questions/coverage';
import type { Figure } from '../questions/figure';
import type { Period } from '../questions/formula';
import { formulaSentence } from '../questions/formulas/index';
import { headlineOf } from '../questions/formulas/computations';
import { unitOf } from '../questions/unit-of';
import { ended } from '../sentence';
import type { Interval } from '../stats/wilson';
import type { MessageTable } from '../table/message-table';
import type { Bridge } from './bridge';
import type { Clearance, GateId, Signal, SinceWhen, Waived } from './gate';
import { countsPeople } from './reach';
import type { SignOff } from './sign-off';
import type { SignalSince } from './sign-off-shown';
import type { Waiver } from './waiver';
import type { Bound } from './unlinked';
import { isUntrusted } from './untrusted';
import { wantedOf } from './wanted';

export interface Term {
  /** As it is sent. */
  readonly name: string;
  readonly kind: 'event' | 'definition' | 'property';
  readonly says: string;
  readonly unit?: string;
  readonly owner: string;
  /** What to have in mind when it is used. */
  readonly care?: string;
}

export interface Avoided {
  readonly name: string;
  readonly why: string;
}

export interface Wrong {
  readonly sentence: string;
  /** UTC epoch ms. */
  readonly since: number;
  readonly who: string;
  readonly key: string;
}

export interface Corrected {
  readonly value: number;
  /** When it was worked out, which may be a while before the figure. UTC epoch ms. */
  readonly at: number;
  readonly steps: readonly { readonly title: string; readonly messages: number }[];
}

export interface Answer {
  readonly questionId: Id;
  /** What it is about: the part of the journey that its first event belongs to. */
  readonly subject: string;
  readonly text: string;
  readonly decision: string;
  readonly definition: string;
  readonly owner: string;
  /** The formula in words; empty without one. */
  readonly sentence: string;
  readonly signal: Signal;
  /** Whether its figure must not be relied on. */
  readonly untrusted: boolean;
  readonly since: SinceWhen | null;
  readonly gates: readonly {
    readonly gate: GateId;
    readonly signal: Signal;
    readonly says: string;
    readonly since: SinceWhen | null;
    readonly waived: Waived | null;
  }[];
  /** Not more of it than is drawn. */
  readonly figure: Figure | null;
  readonly value: number | null;
  /** Of a share, 95 %. */
  readonly interval: Interval | null;
  readonly isShare: boolean;
  readonly unit: string;
  readonly period: Period | null;
  /** A day such as `2026-11-27`. */
  readonly completeUpTo: string | null;
  readonly corrected: Corrected | null;
  /** Between what and what it lies, where nobody can know. */
  readonly bound: Bound | null;
  readonly countsPeople: boolean;
  readonly use: readonly Term[];
  readonly avoid: readonly Avoided[];
  readonly wrong: readonly Wrong[];
  readonly signOff: Pick<SignOff, 'author' | 'at' | 'version' | 'note' | 'until' | 'fellAt' | 'because'> | null;
}

/** All of them, as they were at one moment. */
export interface Answers {
  readonly workspace: string;
  readonly timeZone: string;
  readonly version: number;
  /** UTC epoch ms. */
  readonly at: number;
  readonly answers: readonly Answer[];
}

/** One answer with how it went. */
export interface AnswerShown extends Omit<Answers, 'answers'> {
  readonly answer: Answer | undefined;
  readonly weekStartsOn: number;
  readonly signals: readonly SignalSince[];
  /** Newest first. */
  readonly signOffs: readonly SignOff[];
  readonly waivers: readonly Waiver[];
}

const MAX_POINTS = 62;
const MAX_COHORTS = 40;
const MAX_VALUES = 12;

/** A figure with the newest of its periods, which is what a reader sees. */
export const shortened = (f: Figure): Figure => {
  if ('points' in f) return { ...f, points: f.points.slice(-MAX_POINTS) } as Figure;
  if (f.type === 'retention') return { ...f, cohorts: f.cohorts.slice(-MAX_COHORTS) };
  return f.type === 'top values' ? { ...f, ranked: f.ranked.slice(0, MAX_VALUES) } : f;
};

const subjectOf = (plan: Plan, names: readonly string[]): string => {
  for (const name of names)
    for (const raw of [name, ...rawNeeds(plan, name).map((n) => n.eventName)]) {
      const flow = eventNamed(plan, raw)?.[1].flow;
      if (flow) return flow;
    }
  return '';
};

/** A client's event that is sent before its server has confirmed it. */
const careOf = (plan: Plan, name: string, groups: readonly FindingGroup[]): Pick<Term, 'care'> => {
  const counterpart = eventNamed(plan, name)?.[1].counterpart;
  return counterpart && groups.some((g) => g.code === 'premature-trigger' && g.touches.includes(name))
    ? { care: `It is sent before the outcome is known; \`${counterpart.eventName}\` says what really happened.` }
    : {};
};

const termsOf = (plan: Plan, question: Question, groups: readonly FindingGroup[]): Term[] => {
  const terms = new Map<string, Term>();
  for (const need of needsOf(question)) {
    const definition = entries(plan, 'definition').find(([, d]) => d.name === need.eventName)?.[1];
    const event = eventNamed(plan, need.eventName)?.[1];
    if (definition)
      terms.set(need.eventName, {
        name: need.eventName,
        kind: 'definition',
        says: `${ended(definition.description || 'Not described yet')} Made of: ${definitionText(definition)}.`,
        owner: definition.owner,
      });
    else if (event)
      terms.set(need.eventName, {
        name: need.eventName,
        kind: 'event',
        says: [event.description, event.trigger && `Trigger: ${event.trigger}`].filter(Boolean).map(ended).join(' ') || 'Not described yet.', // prettier-ignore
        owner: event.owner,
        ...careOf(plan, need.eventName, groups),
      });
    for (const p of need.properties) {
      const name = refText(p.name);
      const planned = entries(plan, 'property').find(([, q]) => sameRef(refOfProperty(q), p.name))?.[1];
      if (planned)
        terms.set(`property ${name}`, {
          name,
          kind: 'property',
          says: planned.description || 'Not described yet.',
          ...(planned.unit === '' ? {} : { unit: planned.unit }),
          owner: '',
        });
    }
  }
  return [...terms.values()];
};

/** Names that somebody could take for those of the question, and why they are not. */
const avoided = (plan: Plan, table: MessageTable, question: Question): Avoided[] => {
  const names = new Set(needsOf(question).flatMap((n) => [n.eventName, ...rawNeeds(plan, n.eventName).map((r) => r.eventName)]));
  const out: Avoided[] = [];
  for (const name of names) {
    const event = eventNamed(plan, name)?.[1];
    if (!event) continue;
    for (const arrived of table.names.values)
      if (arrived !== name && !eventNamed(plan, arrived) && likeness(arrived, name) === 'same but for case')
        out.push({ name: arrived, why: `Another spelling of \`${name}\`, which counts apart. Its messages belong to \`${name}\`.` });
    for (const former of event.formerNames) out.push({ name: former, why: `The former name of \`${name}\`; its messages count there.` });
    for (const [, other] of entries(plan, 'event'))
      if (other.retired && other.object !== '' && other.object === event.object)
        out.push({ name: other.name, why: 'Retired: nothing is expected under it any longer.' });
  }
  return out.filter((a, i) => out.findIndex((b) => b.name === a.name) === i);
};

export interface Judged {
  readonly plan: Plan;
  readonly table: MessageTable;
  readonly groups: readonly FindingGroup[];
  readonly questionId: Id;
  readonly question: Question;
  readonly clearance: Clearance;
  readonly figure: Figure | undefined;
  readonly bridge: (Pick<Bridge, 'asItWouldBe' | 'steps' | 'bound'> & { readonly at: number }) | undefined;
  readonly since: SinceWhen | undefined;
  /** The newest one, whether it holds or fell. */
  readonly signOff: SignOff | undefined;
}

/** What is shown of one question. */
export const answerOf = ({ plan, table, groups, questionId, question, clearance, figure, bridge, since, signOff }: Judged): Answer => {
  const f = question.formula;
  const { value, interval } = figure ? headlineOf(figure) : { value: undefined, interval: undefined };
  const lowered = new Set(clearance.gates.flatMap((g) => (g.signal === 'clear' ? [] : (g.findings ?? []))));
  const steps = bridge?.steps.filter((s) => s.messages > 0) ?? [];
  return {
    questionId,
    subject: subjectOf(plan, needsOf(question).map((n) => n.eventName)), // prettier-ignore
    text: question.text,
    decision: question.decision,
    definition: question.definition,
    owner: question.owner,
    sentence: f ? `${formulaSentence(f)}.` : '',
    signal: clearance.signal,
    untrusted: isUntrusted(clearance),
    since: since ?? null,
    gates: clearance.gates.map((g) => ({
      gate: g.gate,
      signal: g.signal,
      says: g.brief ?? g.evidence,
      since: g.since ?? null,
      waived: g.waived ?? null,
    })),
    figure: figure ? shortened(figure) : null,
    value: value ?? null,
    interval: interval ?? null,
    isShare: wantedOf(f) === 'share',
    unit: unitOf(plan, f),
    period: f && 'period' in f ? f.period : null,
    completeUpTo: clearance.gates.find((g) => g.completeUpTo !== undefined)?.completeUpTo ?? null,
    corrected:
      steps.length > 0 && bridge?.asItWouldBe !== undefined
        ? { value: bridge.asItWouldBe, at: bridge.at, steps: steps.map(({ title, messages }) => ({ title, messages })) }
        : null,
    bound: bridge?.bound ?? null,
    countsPeople: f !== null && countsPeople(f),
    use: termsOf(plan, question, groups),
    avoid: avoided(plan, table, question),
    wrong: groups.flatMap((g) =>
      lowered.has(g.key) ? [{ sentence: g.sentence, since: g.firstAt, who: whoFixes(plan, g), key: g.key }] : [],
    ),
    signOff: signOff
      ? {
          author: signOff.author,
          at: signOff.at,
          version: signOff.version,
          note: signOff.note,
          until: signOff.until,
          fellAt: signOff.fellAt,
          because: signOff.because,
        }
      : null,
  };
};

/** Questions by what they are about, in the order of the plan; those about nothing in particular last. */
export const bySubject = (answers: readonly Answer[]): [string, Answer[]][] => {
  const groups = new Map<string, Answer[]>();
  for (const a of answers) groups.set(a.subject, [...(groups.get(a.subject) ?? []), a]);
  return [...groups].sort(([a], [b]) => Number(a === '') - Number(b === ''));
};
