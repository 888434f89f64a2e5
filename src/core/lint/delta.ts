/** What changed between two lists of findings: most edits leave most findings as they are, and those need not go between threads. */
import { sameValue } from '../plan/edit';
import type { ShownFinding } from './lint';

export interface FindingDelta {
  /** For each place of the new list: its place in the old one, or −1 for the next of `fresh`. */
  readonly order: Int32Array;
  readonly fresh: readonly ShownFinding[];
}

const same = (a: ShownFinding, b: ShownFinding): boolean =>
  a.code === b.code &&
  a.severity === b.severity &&
  a.fixable === b.fixable &&
  a.path.length === b.path.length &&
  a.path[1] === b.path[1] &&
  a.path[2] === b.path[2] &&
  a.path[0] === b.path[0] &&
  sameParams(a.params as Record<string, unknown>, b.params as Record<string, unknown>);

/** Params of one rule have the same keys; most values are texts. */
const sameParams = (a: Record<string, unknown>, b: Record<string, unknown>): boolean => {
  if (a === b) return true;
  for (const k in a) if (a[k] !== b[k] && !sameValue(a[k], b[k])) return false;
  return true;
};

/** How far ahead an old finding is looked for: where more went away at once, the rest is sent anew. */
const AHEAD = 60;

/** The delta that leads from the one list to the other. Both are in the order of the same rules, so one pass through both finds what stayed. */
export const deltaOf = (before: readonly ShownFinding[], after: readonly ShownFinding[]): FindingDelta => {
  const order = new Int32Array(after.length).fill(-1);
  const fresh: ShownFinding[] = [];
  let at = 0;
  after.forEach((f, i) => {
    const to = Math.min(before.length, at + AHEAD);
    for (let k = at; k < to; k++)
      if (same(before[k]!, f)) {
        order[i] = k;
        at = k + 1;
        return;
      }
    fresh.push(f);
  });
  return { order, fresh };
};

/** The new list; findings that stayed keep their identity. */
export const withDelta = (before: readonly ShownFinding[], { order, fresh }: FindingDelta): ShownFinding[] => {
  let next = 0;
  return Array.from(order, (k) => (k < 0 ? fresh[next++]! : before[k]!));
};
