/** What a change of the plan would do to what was recorded: two scenarios, and how they differ. */
import type { Severity } from '../findings/severity';
import type { Fixer } from '../arrival/check';
import type { FindingGroup } from '../arrival/finding-group';
import type { Signal } from '../clearance/gate';
import type { Side as PersonsSide } from '../identity/what-if';
import { diffPlans } from '../plan/diff';
import { limitsOf } from '../plan/limits';
import { entries, KINDS, type Id, type Kind, type Plan } from '../plan/plan';
import { referencesTo } from '../plan/references';
import type { Stretch } from './stretch';
import type { Worked } from './side';

export interface FindingDelta {
  readonly key: string;
  readonly title: string;
  readonly sentence: string;
  readonly severity: Severity;
  readonly eventName: string;
  readonly sourceId: string;
  readonly releases: readonly string[];
  readonly fixer: Fixer;
  /** Messages, or causes where it counts none; 0 where it is not found. */
  readonly before: number;
  readonly after: number;
}

export interface QuestionDelta {
  readonly id: Id;
  readonly text: string;
  readonly isShare: boolean;
  readonly before: number | undefined;
  readonly after: number | undefined;
  /** Whether the second lies where the first might as well; `undefined` where that cannot be said. */
  readonly withinChance: boolean | undefined;
  /** `undefined` where the question is not there. */
  readonly signalBefore: Signal | undefined;
  readonly signalAfter: Signal | undefined;
}

export interface Touched {
  readonly kind: Kind;
  readonly id: Id;
  readonly label: string;
  /** Labels of the changed entities by which it is touched. */
  readonly by: readonly string[];
}

export interface DryRun {
  /** The version that it is compared with. */
  readonly version: number;
  /** The stretch of days that it is over; all history where there is none. */
  readonly stretch?: Stretch | undefined;
  /** Messages that were judged anew. */
  readonly judged: number;
  /** Those that differ, by how many messages. */
  readonly findings: readonly FindingDelta[];
  /** Findings that stay as they are. */
  readonly same: number;
  readonly persons: { readonly before: PersonsSide; readonly after: PersonsSide };
  /** In the order of the plan. */
  readonly questions: readonly QuestionDelta[];
  /** Questions and definitions whose meaning may change. */
  readonly touched: readonly Touched[];
  /** Sign-offs that would fall, and why. */
  readonly signOffs?: readonly { readonly questionId: Id; readonly text: string; readonly author: string; readonly because: string }[];
  /** Rules of alerts that name what is changed. */
  readonly alerts?: readonly { readonly name: string; readonly because: string }[];
  readonly limits: readonly { readonly what: string; readonly before: number; readonly after: number; readonly limit: number }[];
}

const deltasOf = (
  before: readonly FindingGroup[],
  after: readonly FindingGroup[],
): { readonly deltas: FindingDelta[]; readonly same: number } => {
  const old = new Map(before.map((g) => [g.key, g]));
  const next = new Map(after.map((g) => [g.key, g]));
  const deltas: FindingDelta[] = [];
  let same = 0;
  for (const key of new Set([...old.keys(), ...next.keys()])) {
    const [a, b] = [old.get(key), next.get(key)];
    if (a && b && a.count === b.count && a.severity === b.severity) {
      same++;
      continue;
    }
    const g = (b ?? a)!;
    deltas.push({
      key,
      title: g.title,
      sentence: g.sentence,
      severity: g.severity,
      eventName: g.eventName,
      sourceId: g.sourceId,
      releases: g.releases,
      fixer: g.fixer,
      // What counts no messages is one finding.
      before: a ? Math.max(1, a.count) : 0,
      after: b ? Math.max(1, b.count) : 0,
    });
  }
  deltas.sort((x, y) => Math.abs(y.after - y.before) - Math.abs(x.after - x.before) || (x.key < y.key ? -1 : 1));
  return { deltas, same };
};

const isWithin = (n: number, { low, high }: { readonly low: number; readonly high: number }): boolean => n >= low && n <= high;

const questionsOf = (before: Worked, after: Worked, order: readonly Id[]): QuestionDelta[] =>
  order.map((id) => {
    const [a, b] = [before.questions.get(id), after.questions.get(id)];
    const same = a?.headline === b?.headline;
    const withinChance =
      a?.headline === undefined || b?.headline === undefined || same
        ? undefined
        : a.interval && b.interval
          ? isWithin(b.headline, a.interval) || isWithin(a.headline, b.interval)
          : undefined;
    return {
      id,
      text: (b ?? a)!.text,
      isShare: (b ?? a)!.isShare || (a ?? b)!.isShare,
      before: a?.headline,
      after: b?.headline,
      withinChance,
      signalBefore: a?.signal,
      signalAfter: b?.signal,
    };
  });

const FOLLOWED: readonly Kind[] = ['question', 'definition'];

/** Questions and definitions that a changed entity touches, through whatever refers to it, in either plan. */
export const touchedBy = (before: Plan, after: Plan): Touched[] => {
  const by = new Map<string, { readonly kind: Kind; readonly id: Id; readonly label: string; readonly by: Set<string> }>();
  for (const change of diffPlans(before, after)) {
    if (change.kind === 'settings') continue;
    const seen = new Set<string>();
    const follow = (plan: Plan, kind: Kind, id: Id): void => {
      const key = `${kind} ${id}`;
      if (seen.has(key) || !plan[kind][id]) return;
      seen.add(key);
      for (const r of referencesTo(plan, kind, id)) {
        if (FOLLOWED.includes(r.kind)) {
          const own = by.get(`${r.kind} ${r.id}`) ?? { kind: r.kind, id: r.id, label: r.label, by: new Set<string>() };
          own.by.add(change.label);
          by.set(`${r.kind} ${r.id}`, own);
        }
        // A property does not touch all that asks about an event that carries it.
        if (kind !== 'property' || FOLLOWED.includes(r.kind)) follow(plan, r.kind, r.id);
      }
    };
    for (const plan of [before, after]) follow(plan, change.kind, change.id);
    if (FOLLOWED.includes(change.kind) && change.what === 'changed') {
      const own = by.get(`${change.kind} ${change.id}`) ?? { kind: change.kind, id: change.id, label: change.label, by: new Set<string>() };
      own.by.add(change.label);
      by.set(`${change.kind} ${change.id}`, own);
    }
  }
  const rank = (k: Kind): number => KINDS.indexOf(k);
  return [...by.values()]
    .map((t) => ({ ...t, by: [...t.by].sort() }))
    .sort((x, y) => rank(x.kind) - rank(y.kind) || (x.label < y.label ? -1 : 1));
};

/** How two scenarios differ.
 *  Shape: findings by their cause; figures of all questions of either plan. A share's difference is within chance where one of the two lies in the
 *  other's interval (Wilson, 95 %); of counts that is not said: they are over the same messages.
 */
export const dryRunOf = (version: number, judged: number, plans: readonly [Plan, Plan], before: Worked, after: Worked): DryRun => {
  const { deltas, same } = deltasOf(before.groups, after.groups);
  const order = [
    ...new Set(
      plans
        .toReversed()
        .flatMap((plan) => entries(plan, 'question'))
        .sort(([, a], [, b]) => a.order - b.order)
        .map(([id]) => id),
    ),
  ];
  const old = new Map(limitsOf(plans[0]).map((l) => [l.key, l]));
  return {
    version,
    judged,
    findings: deltas,
    same,
    persons: { before: before.persons, after: after.persons },
    questions: questionsOf(before, after, order),
    touched: touchedBy(...plans),
    limits: limitsOf(plans[1]).flatMap((l) => {
      const was = old.get(l.key)!;
      return was.used === l.used && was.limit === l.limit ? [] : [{ what: l.what, before: was.used, after: l.used, limit: l.limit }];
    }),
  };
};
