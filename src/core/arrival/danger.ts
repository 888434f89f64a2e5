/** Findings in the order of what they endanger. */
import { bySeverity } from '../findings/severity';
import type { Plan } from '../plan/plan';
import { questionsServedBy } from '../questions/coverage';
import type { FindingGroup } from './finding-group';

/** By severity, then how many questions they touch, then the share of the messages, then how many. The groups given are not changed. */
export const byDanger = <G extends FindingGroup>(plan: Plan, groups: readonly G[]): G[] => {
  const touched = new Map(
    groups.map((g) => [g.key, new Set(g.touches.flatMap((name) => questionsServedBy(plan, name).map(([id]) => id))).size]),
  );
  const share = (g: G): number => (g.outOf > 0 ? g.count / g.outOf : 1);
  return [...groups].sort(
    (a, b) => bySeverity(a, b) || touched.get(b.key)! - touched.get(a.key)! || share(b) - share(a) || b.count - a.count,
  );
};
