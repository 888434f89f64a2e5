/** What a run of a trial came to, step by step. One judge for a live run and for a file.
 *  Long because what a message is taken for and what it is judged by are one thing. */
import type { Plan } from '../plan/plan';
import { patternOf } from '../plan/pattern';
import { PathMap, refOfProperty, refText, valueAt, type PropertyRef } from '../plan/property-path';
import { eventNamed } from '../plan/plan-index';
import { withSides } from './sides';
import { triedBy } from './tried';
import type { ExpectedVerdict, Misfit, StepState, StepVerdict, TrialVerdict } from './verdict-shape';
import { plural } from '../formats/format';
import { unplannedProperty } from '../arrival/checks/unplanned-property';
import type { Mark, TrialMessage, TrialRun } from './run';
import type { Expected, TrialStep, WantedValue } from './script';

const shown = (v: unknown): string => (v === undefined ? 'nothing' : JSON.stringify(v).slice(0, 80));

/** Says a value at a path, but for personal ones: evidence is handed around. */
type Shower = (ref: PropertyRef, v: unknown) => string;
const showing = (plan: Plan): Shower => {
  const personal = new PathMap(
    Object.values(plan.property)
      .filter((p) => p.personalData === 'personal' || p.personalData === 'sensitive')
      .map((p) => [refOfProperty(p), true] as const),
  );
  return (ref, v) => (v !== undefined && personal.has(ref) ? 'a personal value' : shown(v));
};
const textOf = (v: unknown): string => (typeof v === 'string' ? v : JSON.stringify(v));

/** The value of which a text speaks, by what came: 3 is 3 and "3" is "3". */
const isExactly = (v: unknown, text: string): boolean => v !== undefined && textOf(v) === text;

const wantedText = ({ wanted, property }: WantedValue, remembered: ReadonlyMap<string, unknown>, say: Shower): string => {
  switch (wanted.is) {
    case 'exactly':
      return wanted.value;
    case 'like':
      return `like ${wanted.pattern}`;
    case 'remembered':
      return `${say(property, remembered.get(wanted.as))} (${wanted.as})`;
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

const takes = (e: Expected, m: TrialMessage): boolean => e.sources.length === 0 || e.sources.includes(m.sourceId);

/** Gives each message to what expects it of its source: where several do, to the first whose values it has and that lacks one. */
const shared = (
  step: TrialStep,
  messages: readonly TrialMessage[],
  nameOf: (n: string) => string,
  remembered: ReadonlyMap<string, unknown>,
): { readonly taken: readonly TrialMessage[][]; readonly besides: readonly TrialMessage[] } => {
  const taken: TrialMessage[][] = step.expects.map(() => []);
  const besides: TrialMessage[] = [];
  for (const m of messages) {
    const of = step.expects.map((e, i) => ({ e, i })).filter(({ e }) => m.kind === 'event' && e.event === nameOf(m.name) && takes(e, m));
    if (of.length === 0) {
      besides.push(m);
      continue;
    }
    const fits = (e: Expected): boolean => e.values.every((v) => holds(v, m, remembered));
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

const named = (...messages: readonly TrialMessage[]): Pick<Misfit, 'messages' | 'seqs'> => ({
  messages: messages.map((m) => m.messageId),
  seqs: messages.map((m) => m.seq),
});
const times = ({ min, max }: Expected): string =>
  min === max ? (min === 1 ? 'exactly once' : `exactly ${min} times`) : `${min} to ${max} times`;

/** What of a message a script speaks of, as it came. */
const receivedText = (e: Expected, m: TrialMessage, say: Shower): string =>
  [
    ...e.values.map(({ property }) => `\`${refText(property)}\` ${say(property, valueAt(m.properties, property))}`),
    ...e.ids.map((kind) => `\`${kind}\` ${m.ids[kind] || 'nothing'}`),
  ].join(', ');

/** Notes that fail a trial all the same: whoever tries what was built wants to know what nobody planned. */
const FAILING_NOTES: ReadonlySet<string> = new Set([unplannedProperty.id]);

const ofSources = (e: Expected, sourceName: (id: string) => string): string =>
  e.sources.length === 0 ? '' : ` from ${e.sources.map(sourceName).join(' or ')}`;

interface Judging {
  readonly remembered: ReadonlyMap<string, unknown>;
  readonly say: Shower;
  readonly sourceName: (id: string) => string;
}

const misfitsOf = (e: Expected, messages: readonly TrialMessage[], { remembered, say, sourceName }: Judging, isOver: boolean): Misfit[] => {
  const out: Misfit[] = [];
  const n = messages.length;
  if (n < e.min && isOver)
    out.push({
      what: 'missing',
      event: e.event,
      sentence:
        n === 0
          ? `\`${e.event}\` did not come${ofSources(e, sourceName)}.`
          : `\`${e.event}\` came ${n} of ${e.min} times${ofSources(e, sourceName)}.`,
      expected: times(e),
      received: n === 0 ? 'none' : plural(n, 'message'),
      ...named(...messages),
    });
  if (n > e.max)
    out.push({
      what: 'too many',
      event: e.event,
      sentence: `\`${e.event}\` came ${n === 2 ? 'twice' : `${n} times`}${ofSources(e, sourceName)} for one action.`,
      expected: times(e),
      received: plural(n, 'message'),
      ...named(...messages),
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
          received: say(v.property, valueAt(m.properties, v.property)),
          ...named(m),
        });
      } else if (!holds(v, m, remembered))
        out.push({
          event: e.event,
          what: isOtherType(v, m, remembered) ? 'type' : 'value',
          sentence: `\`${e.event}\` came with \`${path}\` ${say(v.property, valueAt(m.properties, v.property))}.`,
          expected: `\`${path}\`: ${wantedText(v, remembered, say)}`,
          received: say(v.property, valueAt(m.properties, v.property)),
          ...named(m),
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
          ...named(m),
        });
    for (const f of m.findings)
      if (f.severity !== 'note' || FAILING_NOTES.has(f.code))
        out.push({
          what: 'finding',
          event: e.event,
          sentence: f.sentence,
          expected: 'no finding',
          received: f.code,
          ...named(m),
        });
  }
  return out;
};

/** What came in another order than is expected. Within a source by its own clock, between sources by arrival. */
const orderMisfits = (step: TrialStep, taken: readonly TrialMessage[][]): Misfit[] => {
  if (!step.inOrder) return [];
  // Two sides of one expectation have no order between them: they share a place.
  const places = step.expects.reduce<number[]>((out, e, i) => {
    const before = step.expects[i - 1];
    const isSide = before !== undefined && before.event === e.event && before.values === e.values && e.sources.length > 0;
    return [...out, i === 0 ? 0 : out[i - 1]! + (isSide ? 0 : 1)];
  }, []);
  const isBefore = (a: TrialMessage, b: TrialMessage): boolean =>
    a.sourceId === b.sourceId && a.occurredAt !== b.occurredAt ? a.occurredAt < b.occurredAt : a.seq < b.seq;
  return step.expects.flatMap((late, i) =>
    step.expects.flatMap((early, j): Misfit[] => {
      const [before, after] = [taken[j]![0], taken[i]![0]];
      if (places[j] !== places[i]! - 1 || !before || !after || !isBefore(after, before)) return [];
      const [a, b] = [early.event, late.event];
      return [
        {
          what: 'order',
          event: b,
          sentence: `\`${b}\` came before \`${a}\`.`,
          expected: `\`${a}\`, then \`${b}\``,
          received: `\`${b}\`, then \`${a}\``,
          ...named(after, before),
        },
      ];
    }),
  );
};

/** What a step expects, of sources of which nobody expects it: a fault where the plan does not ask it of them either. */
const strangers = (
  plan: Plan,
  step: TrialStep,
  besides: readonly TrialMessage[],
  nameOf: (n: string) => string,
  sourceName: (id: string) => string,
): { readonly misfits: Misfit[]; readonly remarks: string[] } => {
  const misfits: Misfit[] = [];
  const remarks = new Set<string>();
  for (const m of besides) {
    const expected = step.expects.filter((e) => m.kind === 'event' && e.event === nameOf(m.name));
    if (expected.length === 0) continue;
    const event = eventNamed(plan, m.name)?.[1];
    const wanted = [...new Set(expected.flatMap((e) => e.sources))].map(sourceName).join(' or ');
    if (event?.sources.some((s) => s.sourceId === m.sourceId))
      remarks.add(`\`${nameOf(m.name)}\` came from ${sourceName(m.sourceId)} too, which this step does not mention.`);
    else
      misfits.push({
        what: 'source',
        event: nameOf(m.name),
        sentence: `\`${nameOf(m.name)}\` came from ${sourceName(m.sourceId)}, which the plan does not ask for it.`,
        expected: wanted,
        received: sourceName(m.sourceId),
        ...named(m),
      });
  }
  return { misfits, remarks: [...remarks] };
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
        ...named(...came),
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
export const judgeTrial = (given: TrialRun, messages: readonly TrialMessage[], plan: Plan, now: number): TrialVerdict => {
  const run: TrialRun = { ...given, script: withSides(plan, given.script) };
  const { script, guessed = false } = run;
  const say = showing(plan);
  const sourceName = (id: string): string => plan.source[id]?.name ?? id;
  // Former names count as the event's.
  const nameOf = (name: string): string => eventNamed(plan, name)?.[1].name ?? name;
  const windows = windowsOf(run, messages, nameOf);
  const endedAt = run.marks.findLast((m) => m.step === 'end')?.at;
  const ended = endedAt !== undefined;
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
      if (guessed)
        return {
          ...base,
          state: 'gap',
          reason: 'Nothing came of it, or it was not done: the file does not say when each step began.',
        };
      return { ...base, state: 'not begun', reason: ended ? 'It was not begun before the run ended.' : '' };
    }
    const { mark } = window;
    if (mark.skipped !== undefined) return { ...base, from: mark.at, state: 'skipped', reason: mark.skipped };
    const until = mark.at + step.waitMs;
    const { taken, besides } = shared(step, window.messages, nameOf, remembered);
    // Where a step was followed by another one, or the run ended, what is missing may still come until its time is over.
    const isOver = guessed || (endedAt ?? now) >= until;
    const lacks = (): boolean => step.expects.some((e, i) => taken[i]!.length < e.min);
    const expected = step.expects.map((e, i): ExpectedVerdict => {
      const verdict = {
        expected: e,
        messages: taken[i]!,
        received: taken[i]!.map((m) => receivedText(e, m, say)),
        misfits: misfitsOf(e, taken[i]!, { remembered, say, sourceName }, isOver),
      };
      // What is remembered holds for all that the script names after it, in the same step too.
      for (const v of e.values) {
        const first = taken[i]![0];
        if (v.remember !== undefined && first) remembered.set(v.remember, valueAt(first.properties, v.property));
      }
      return verdict;
    });
    const others = strangers(plan, step, besides, nameOf, sourceName);
    const forbidden = [...notWanted(step, window.messages, nameOf), ...orderMisfits(step, taken), ...others.misfits];
    const isWrong = forbidden.length > 0 || expected.some((e) => e.misfits.length > 0);
    const came = window.messages.filter((m) => m.kind !== 'view').length;
    const state: StepState = isWrong
      ? isOver && came === 0
        ? 'gap'
        : 'failed'
      : isOver || ((ended || windows.some((w) => w.mark.at > mark.at)) && !lacks())
        ? 'passed'
        : ended
          ? 'not judged'
          : 'waiting';
    const reason =
      state === 'gap'
        ? messages.length === 0
          ? 'No message of the tester arrived in the whole run. Nothing was sent, something held it back on the way, or the tester is told by what the messages do not carry.'
          : 'Nothing came of it, while other messages of the tester arrived in this run.'
        : state === 'not judged'
          ? `The run ended ${Math.ceil((until - endedAt!) / 1000)} s before the time of this step was over: what is missing may have been on its way.`
          : '';
    const remarks = others.remarks;
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
      reason,
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
    ...triedBy(plan, steps, messages, baseline),
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
        ...named(...came),
      },
    ];
  });
  const wait = Math.max(0, ...script.steps.map((s) => s.waitMs));
  const isOver = window.to !== Infinity || now >= window.mark.at + wait;
  return { state: misfits.length > 0 ? 'already fires' : isOver ? 'clean' : 'waiting', misfits };
};
