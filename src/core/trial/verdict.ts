/** What a run of a trial came to, step by step. One judge for a live run and for a file.
 *  Long because what a message is taken for and what it is judged by are one thing. */
import type { Plan } from '../plan/plan';
import { patternOf } from '../plan/pattern';
import { refText, valueAt } from '../plan/property-path';
import { plural } from '../formats/format';
import type { Mark, TrialMessage, TrialRun } from './run';
import type { Expected, TrialStep, WantedValue } from './script';

/** `waiting`: it may still come, or come once too often. `gap`: nothing came of the step at all. */
export type StepState = 'not begun' | 'waiting' | 'passed' | 'failed' | 'gap' | 'skipped' | 'not judged';

/** One thing that is not as it must be, with what is expected and what came, in words. */
export interface Misfit {
  readonly what:
    | 'missing'
    | 'too many'
    | 'value'
    | 'type'
    | 'identifier'
    | 'order'
    | 'source'
    | 'finding'
    | 'not wanted'
    | 'nothing remembered'
    | 'already fires';
  /** The event that it is about. */
  readonly event: string;
  readonly sentence: string;
  readonly expected: string;
  readonly received: string;
  readonly messages: readonly string[];
}

export interface ExpectedVerdict {
  readonly expected: Expected;
  readonly messages: readonly TrialMessage[];
  readonly misfits: readonly Misfit[];
}

export interface StepVerdict {
  readonly step: string;
  readonly does: string;
  readonly state: StepState;
  /** When it began and when it is judged at the latest, UTC epoch ms; `undefined` before it began. */
  readonly from: number | undefined;
  readonly until: number | undefined;
  readonly expected: readonly ExpectedVerdict[];
  /** What must not have come, and came. */
  readonly forbidden: readonly Misfit[];
  /** What came besides: nobody spoke of it. */
  readonly besides: readonly TrialMessage[];
  readonly remarks: readonly string[];
  readonly reason: string;
}

export interface TrialVerdict {
  readonly state: 'not begun' | 'running' | 'passed' | 'failed' | 'incomplete';
  readonly steps: readonly StepVerdict[];
  /** Of the baseline, where it was recorded. */
  readonly baseline: { readonly state: 'clean' | 'already fires' | 'waiting'; readonly misfits: readonly Misfit[] } | undefined;
  /** Sources and releases in which everything that was expected of them came. */
  readonly verified: readonly { readonly event: string; readonly sourceId: string; readonly release: string }[];
}

const shown = (v: unknown): string => (v === undefined ? 'nothing' : JSON.stringify(v).slice(0, 80));
const textOf = (v: unknown): string => (typeof v === 'string' ? v : JSON.stringify(v));

/** The value of which a text speaks, by what came: 3 is 3 and "3" is "3". */
const isExactly = (v: unknown, text: string): boolean => v !== undefined && textOf(v) === text;

const wantedText = ({ wanted }: WantedValue, remembered: ReadonlyMap<string, unknown>): string => {
  switch (wanted.is) {
    case 'exactly':
      return wanted.value;
    case 'like':
      return `like ${wanted.pattern}`;
    case 'remembered':
      return `${shown(remembered.get(wanted.as))} (${wanted.as})`;
    case 'any':
      return 'any value';
  }
};

const holds = ({ wanted, property }: WantedValue, m: TrialMessage, remembered: ReadonlyMap<string, unknown>): boolean => {
  const v = valueAt(m.properties, property);
  switch (wanted.is) {
    case 'exactly':
      return isExactly(v, wanted.value);
    case 'like':
      return v !== undefined && patternOf(wanted.pattern)?.test(textOf(v)) === true;
    case 'remembered':
      return v !== undefined && remembered.has(wanted.as) && textOf(remembered.get(wanted.as)) === textOf(v);
    case 'any':
      return v !== undefined;
  }
};

/** Whether a text is what came but for its type: 3 for "3". */
const isOtherType = ({ wanted, property }: WantedValue, m: TrialMessage, remembered: ReadonlyMap<string, unknown>): boolean => {
  const v = valueAt(m.properties, property);
  if (wanted.is !== 'remembered') return false;
  return v !== undefined && remembered.has(wanted.as) && typeof v !== typeof remembered.get(wanted.as);
};

/** The names under which a planned event arrives: its own and its former ones. */
const namesOf = (plan: Plan): ((name: string) => string) => {
  const now = new Map<string, string>();
  for (const e of Object.values(plan.event)) for (const former of e.formerNames) if (!now.has(former)) now.set(former, e.name);
  for (const e of Object.values(plan.event)) now.delete(e.name);
  return (name) => now.get(name) ?? name;
};

interface Window {
  readonly mark: Mark;
  readonly to: number;
  readonly messages: TrialMessage[];
}

/** Which message came of which step: the step that was under way when it arrived; what an earlier step waits for, and this one does not speak of, is
 *  that one's.
 */
const windowsOf = ({ script, marks }: TrialRun, messages: readonly TrialMessage[], nameOf: (n: string) => string): Window[] => {
  const ordered = [...marks].sort((a, b) => a.at - b.at);
  const windows = ordered.map((mark, i): Window => ({ mark, to: ordered[i + 1]?.at ?? Infinity, messages: [] }));
  const stepOf = new Map(script.steps.map((s) => [s.id, s]));
  for (const m of messages) {
    let i = windows.findLastIndex((w) => w.mark.at <= m.receivedAt);
    if (i < 0) continue;
    const speaks = (w: Window): boolean => {
      const step = stepOf.get(w.mark.step);
      return step !== undefined && (step.expects.some((e) => e.event === nameOf(m.name)) || step.forbids.includes(nameOf(m.name)));
    };
    if (!speaks(windows[i]!) && m.kind === 'event') {
      const earlier = windows.findLastIndex((w, j) => {
        const step = stepOf.get(w.mark.step);
        return (
          j < i && step !== undefined && m.receivedAt <= w.mark.at + step.waitMs && step.expects.some((e) => e.event === nameOf(m.name))
        );
      });
      if (earlier >= 0) i = earlier;
    }
    windows[i]!.messages.push(m);
  }
  return windows;
};

/** Gives each message to what expects it: where several do, to the first whose values it has and that lacks one. */
const shared = (
  step: TrialStep,
  messages: readonly TrialMessage[],
  nameOf: (n: string) => string,
  remembered: ReadonlyMap<string, unknown>,
): { readonly taken: readonly TrialMessage[][]; readonly besides: readonly TrialMessage[] } => {
  const taken: TrialMessage[][] = step.expects.map(() => []);
  const besides: TrialMessage[] = [];
  for (const m of messages) {
    const of = step.expects.map((e, i) => ({ e, i })).filter(({ e }) => m.kind === 'event' && e.event === nameOf(m.name));
    if (of.length === 0) {
      besides.push(m);
      continue;
    }
    const fits = (e: Expected): boolean =>
      e.values.every((v) => holds(v, m, remembered)) && (e.sources.length === 0 || e.sources.includes(m.sourceId));
    const best =
      of.find(({ e, i }) => fits(e) && taken[i]!.length < e.min) ??
      of.find(({ e, i }) => fits(e) && taken[i]!.length < e.max) ??
      of.find(({ e }) => fits(e)) ??
      of.find(({ e, i }) => taken[i]!.length < e.min) ??
      of[0]!;
    taken[best.i]!.push(m);
  }
  return { taken, besides };
};

const ids = (messages: readonly TrialMessage[]): string[] => messages.map((m) => m.messageId);
const times = ({ min, max }: Expected): string =>
  min === max ? (min === 1 ? 'exactly once' : `exactly ${min} times`) : `${min} to ${max} times`;

const misfitsOf = (e: Expected, messages: readonly TrialMessage[], remembered: ReadonlyMap<string, unknown>, isOver: boolean): Misfit[] => {
  const out: Misfit[] = [];
  const n = messages.length;
  if (n < e.min && isOver)
    out.push({
      what: 'missing',
      event: e.event,
      sentence: n === 0 ? `\`${e.event}\` did not come.` : `\`${e.event}\` came ${n} of ${e.min} times.`,
      expected: times(e),
      received: n === 0 ? 'none' : plural(n, 'message'),
      messages: ids(messages),
    });
  if (n > e.max)
    out.push({
      what: 'too many',
      event: e.event,
      sentence: `\`${e.event}\` came ${n === 2 ? 'twice' : `${n} times`} for one action.`,
      expected: times(e),
      received: plural(n, 'message'),
      messages: ids(messages),
    });
  for (const m of messages) {
    for (const v of e.values) {
      const path = refText(v.property);
      if (v.wanted.is === 'remembered' && !remembered.has(v.wanted.as)) {
        out.push({
          what: 'nothing remembered',
          event: e.event,
          sentence: `\`${path}\` is to be “${v.wanted.as}” of an earlier step, and no step remembered it.`,
          expected: `“${v.wanted.as}”`,
          received: shown(valueAt(m.properties, v.property)),
          messages: [m.messageId],
        });
      } else if (!holds(v, m, remembered))
        out.push({
          event: e.event,
          what: isOtherType(v, m, remembered) ? 'type' : 'value',
          sentence: `\`${e.event}\` came with \`${path}\` ${shown(valueAt(m.properties, v.property))}.`,
          expected: `\`${path}\`: ${wantedText(v, remembered)}`,
          received: shown(valueAt(m.properties, v.property)),
          messages: [m.messageId],
        });
    }
    for (const kind of e.ids)
      if ((m.ids[kind] ?? '') === '')
        out.push({
          what: 'identifier',
          event: e.event,
          sentence: `\`${e.event}\` came without the identifier \`${kind}\`.`,
          expected: `\`${kind}\``,
          received:
            Object.keys(m.ids)
              .map((k) => `\`${k}\``)
              .join(', ') || 'no identifier',
          messages: [m.messageId],
        });
    if (e.sources.length > 0 && !e.sources.includes(m.sourceId))
      out.push({
        what: 'source',
        event: e.event,
        sentence: `\`${e.event}\` came from another source.`,
        expected: e.sources.join(' or '),
        received: m.sourceId,
        messages: [m.messageId],
      });
    for (const f of m.findings)
      if (f.severity !== 'note')
        out.push({
          what: 'finding',
          event: e.event,
          sentence: f.sentence,
          expected: 'no finding',
          received: f.code,
          messages: [m.messageId],
        });
  }
  return out;
};

/** What came in another order than is expected. Within a source by its own clock, between sources by arrival. */
const orderMisfits = (step: TrialStep, taken: readonly TrialMessage[][]): Misfit[] => {
  if (!step.inOrder) return [];
  const isBefore = (a: TrialMessage, b: TrialMessage): boolean =>
    a.sourceId === b.sourceId && a.occurredAt !== b.occurredAt ? a.occurredAt < b.occurredAt : a.seq < b.seq;
  const out: Misfit[] = [];
  for (let i = 1; i < taken.length; i++) {
    const [before, after] = [taken[i - 1]![0], taken[i]![0]];
    if (before && after && isBefore(after, before)) {
      const [a, b] = [step.expects[i - 1]!.event, step.expects[i]!.event];
      out.push({
        what: 'order',
        event: b,
        sentence: `\`${b}\` came before \`${a}\`.`,
        expected: `\`${a}\`, then \`${b}\``,
        received: `\`${b}\`, then \`${a}\``,
        messages: [after.messageId, before.messageId],
      });
    }
  }
  return out;
};

const notWanted = (step: TrialStep, messages: readonly TrialMessage[], nameOf: (n: string) => string): Misfit[] =>
  step.forbids.flatMap((name) => {
    const came = messages.filter((m) => m.kind === 'event' && nameOf(m.name) === name);
    if (came.length === 0 || step.expects.some((e) => e.event === name)) return [];
    return [
      {
        what: 'not wanted',
        event: name,
        sentence: `\`${name}\` came, and must not.`,
        expected: `no \`${name}\``,
        received: plural(came.length, 'message'),
        messages: ids(came),
      },
    ];
  });

const releasesOf = (messages: readonly TrialMessage[]): string =>
  [...new Set(messages.map((m) => m.release).filter(Boolean))].sort().join(', ');

/** The verdict of a run.
 *  Shape: steps in the order of the script. `messages` are those of the tester alone, in the order of arrival, judged by the plan that is tried;
 *  `now` is UTC epoch ms by the clock by which messages are received, so that a device's own clock decides nothing.
 *  A step is over when its time is, or when the next one was begun and nothing more is waited for; only then is a missing message a fault. One that
 *  came too often, with another value, or at all where it must not, is one at once.
 *  Source: own definition.
 */
export const judgeTrial = (run: TrialRun, messages: readonly TrialMessage[], plan: Plan, now: number): TrialVerdict => {
  const { script, guessed = false } = run;
  const nameOf = namesOf(plan);
  const windows = windowsOf(run, messages, nameOf);
  const ended = run.marks.some((m) => m.step === 'end');
  const remembered = new Map<string, unknown>();
  const steps = script.steps.map((step): StepVerdict => {
    const tries = windows.filter((w) => w.mark.step === step.id);
    const window = tries.at(-1);
    const base = {
      step: step.id,
      does: step.does,
      expected: [],
      forbidden: [],
      besides: [],
      remarks: [],
      from: undefined,
      until: undefined,
    };
    if (!window) {
      if (guessed && step.expects.length === 0)
        return {
          ...base,
          state: 'not judged',
          reason: 'The file does not say when each step began, so this step cannot be told from the others.',
        };
      if (guessed || ended) return { ...base, state: step.expects.length === 0 ? 'not begun' : 'gap', reason: 'Nothing came of it.' };
      return { ...base, state: 'not begun', reason: '' };
    }
    const { mark } = window;
    if (mark.skipped !== undefined) return { ...base, from: mark.at, state: 'skipped', reason: mark.skipped };
    const until = mark.at + step.waitMs;
    const { taken, besides } = shared(step, window.messages, nameOf, remembered);
    // Where a step was followed by another one, what is missing may still come until its time is over.
    const isOver = now >= until || ended || guessed;
    const expected = step.expects.map((e, i): ExpectedVerdict => {
      const verdict = { expected: e, messages: taken[i]!, misfits: misfitsOf(e, taken[i]!, remembered, isOver) };
      // What is remembered holds for all that the script names after it, in the same step too.
      for (const v of e.values) {
        const first = taken[i]![0];
        if (v.remember !== undefined && first) remembered.set(v.remember, valueAt(first.properties, v.property));
      }
      return verdict;
    });
    const forbidden = [...notWanted(step, window.messages, nameOf), ...orderMisfits(step, taken)];
    const isWrong = forbidden.length > 0 || expected.some((e) => e.misfits.length > 0);
    const came = window.messages.filter((m) => m.kind !== 'view').length;
    const state: StepState = isWrong
      ? isOver && came === 0
        ? 'gap'
        : 'failed'
      : isOver || (windows.some((w) => w.mark.at > mark.at) && step.expects.every((e, i) => taken[i]!.length >= e.min))
        ? 'passed'
        : 'waiting';
    const remarks: string[] = [];
    const before = tries.at(-2);
    if (
      before &&
      isWrong &&
      window.messages.length > 0 &&
      releasesOf(before.messages) === releasesOf(window.messages) &&
      releasesOf(window.messages) !== ''
    )
      remarks.push(`Release ${releasesOf(window.messages)} sent it, as in the try before: the old release is still running.`);
    const fired = new Set(expected.flatMap((e) => e.messages.filter((m) => m.name !== e.expected.event).map((m) => m.name)));
    for (const name of fired) remarks.push(`It came under its former name \`${name}\`.`);
    return {
      ...base,
      state,
      from: mark.at,
      until,
      expected,
      forbidden,
      besides: besides.filter((m) => !step.forbids.includes(nameOf(m.name))),
      remarks,
      reason: '',
    };
  });
  const baseline = baselineOf(run, windows, nameOf, now);
  const states = steps.map((s) => s.state);
  const isBad = states.some((s) => s === 'failed' || s === 'gap') || baseline?.state === 'already fires';
  const isOpen = states.some((s) => s === 'waiting' || s === 'not begun');
  return {
    state:
      run.marks.length === 0
        ? 'not begun'
        : isBad && (ended || guessed || !isOpen)
          ? 'failed'
          : isOpen && !ended && !guessed
            ? 'running'
            : isBad
              ? 'failed'
              : isOpen || states.some((s) => s === 'skipped' || s === 'not judged')
                ? 'incomplete'
                : 'passed',
    steps,
    baseline,
    verified: verifiedBy(steps),
  };
};

const baselineOf = (
  { script }: TrialRun,
  windows: readonly Window[],
  nameOf: (n: string) => string,
  now: number,
): TrialVerdict['baseline'] => {
  const window = windows.findLast((w) => w.mark.step === 'baseline');
  if (!window) return undefined;
  const expected = new Set(script.steps.flatMap((s) => s.expects.map((e) => e.event)));
  const misfits = [...expected].flatMap((name): Misfit[] => {
    const came = window.messages.filter((m) => m.kind === 'event' && nameOf(m.name) === name);
    if (came.length === 0) return [];
    return [
      {
        what: 'already fires',
        event: name,
        sentence: `\`${name}\` already comes, before anything was built.`,
        expected: `no \`${name}\``,
        received: plural(came.length, 'message'),
        messages: ids(came),
      },
    ];
  });
  const wait = Math.max(0, ...script.steps.map((s) => s.waitMs));
  const isOver = window.to !== Infinity || now >= window.mark.at + wait;
  return { state: misfits.length > 0 ? 'already fires' : isOver ? 'clean' : 'waiting', misfits };
};

/** An event is verified on a source and release when it came there in a step that passed, and in none that did not. */
const verifiedBy = (steps: readonly StepVerdict[]): TrialVerdict['verified'] => {
  const good = new Map<string, { event: string; sourceId: string; release: string }>();
  const bad = new Set<string>();
  for (const s of steps)
    for (const { expected, messages, misfits } of s.expected) {
      if (misfits.length > 0 || s.state === 'failed' || s.state === 'gap') bad.add(expected.event);
      else if (s.state === 'passed')
        for (const m of messages)
          good.set(JSON.stringify([expected.event, m.sourceId, m.release]), {
            event: expected.event,
            sourceId: m.sourceId,
            release: m.release,
          });
    }
  for (const s of steps) for (const f of s.forbidden) bad.add(f.event);
  return [...good.values()].filter((v) => !bad.has(v.event));
};
