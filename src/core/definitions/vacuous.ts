/** Conditions that can never hold together, or hold always: said while they are written. */
import { takesNone, takesNumber, type Condition, type Group, type Operand } from './definition';
import { testOf } from './holds';

export type Vacuous =
  | { readonly what: 'never'; readonly conditions: readonly Condition[] }
  | { readonly what: 'always'; readonly conditions: readonly Condition[] };

const subjectKey = ({ subject }: Condition): string => JSON.stringify(subject);

/** Numbers around those that conditions name: between two of them, and beyond, nothing else makes a difference. */
const numbersAround = (numbers: readonly number[]): number[] => {
  const sorted = [...new Set(numbers)].sort((a, b) => a - b);
  return sorted
    .flatMap((n, i) => [n, i + 1 < sorted.length ? (n + sorted[i + 1]!) / 2 : n + 1])
    .concat(sorted.length > 0 ? [sorted[0]! - 1] : []);
};

/** Values of one subject that stand for all others where only exact operators are used; `undefined` where an operator looks into texts. */
const candidates = (conditions: readonly Condition[]): (Operand | undefined)[] | undefined => {
  if (conditions.some((c) => c.op === 'contains' || c.op === 'starts with' || c.op === 'matches')) return undefined;
  const named = conditions.flatMap((c) => (takesNone(c.op) ? [] : [...c.values]));
  const other = `\u0000${named.map(String).join('\u0000')}`;
  // Every message has a source; everything else may be untold.
  const absent = conditions.every((c) => c.subject.of === 'source') ? [] : [undefined];
  return [...absent, '', other, true, false, 0.123456789, ...named, ...numbersAround(named.filter((v) => typeof v === 'number'))];
};

/** What a group of conditions on one subject comes to; `undefined` where it sometimes holds. */
const judge = (match: 'all' | 'any', conditions: readonly Condition[]): 'never' | 'always' | undefined => {
  const values = candidates(conditions);
  if (!values) return undefined;
  const tests = conditions.map(testOf);
  const holds = values.map((v) => (match === 'all' ? tests.every((t) => t(v)) : tests.some((t) => t(v))));
  return holds.every((h) => !h) ? 'never' : holds.every((h) => h) ? 'always' : undefined;
};

/** A condition that lacks what it compares with, or has it of another type, holds for nothing. */
const isUnfinished = (c: Condition): boolean =>
  (!takesNone(c.op) && c.values.length === 0) || (takesNumber(c.op) && typeof c.values[0] !== 'number');

/** The first contradiction, or what says nothing, in a sentence.
 *  Shape: `undefined` where each part can hold and fail. Conditions are compared where they look at one subject of one group, by exact operators;
 *  texts that contain or match one another are not compared: they are shown by what they take.
 */
export const vacuousIn = (where: Group): Vacuous | undefined => {
  for (const { match, conditions } of [where, ...where.groups]) {
    const bySubject = new Map<string, Condition[]>();
    for (const c of conditions) {
      if (isUnfinished(c)) return { what: 'never', conditions: [c] };
      bySubject.set(subjectKey(c), [...(bySubject.get(subjectKey(c)) ?? []), c]);
    }
    for (const own of bySubject.values()) {
      const what = judge(match, own);
      if (what) return { what, conditions: own };
    }
  }
  return undefined;
};
