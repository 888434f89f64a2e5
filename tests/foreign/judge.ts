/** A foreign workspace through the product's own path: read, checked, put into columns, seen by its plan, looked over. */
import { judgeHistory } from '../../src/core/arrival/history';
import type { FindingGroup } from '../../src/core/arrival/finding-group';
import type { Planted } from './faults';
import type { Foreign } from './workspace';

export const findingsIn = (w: Foreign): readonly FindingGroup[] => judgeHistory(w.plan, w.messages, w.now, w.from).groups;

export interface Verdicts {
  /** The planted fault was not found, or not at its source. */
  readonly missed: string[];
  /** Findings of severity stop or caution that nothing planted explains. */
  readonly invented: string[];
}

export const verdictsOn = (w: Foreign, expected: Planted | undefined): Verdicts => {
  const groups = findingsIn(w);
  const found = expected && groups.filter((g) => g.code === expected.code && g.sourceId === expected.sourceId);
  const explained = (g: FindingGroup): boolean =>
    expected ? g.code === expected.code || (expected.also?.includes(g.code) ?? false) : false;
  return {
    missed: expected && found!.length === 0 ? [`${expected.code} ${expected.sourceId}`] : [],
    invented: groups
      .filter((g) => g.severity !== 'note' && !explained(g))
      .map((g) => `${g.code} ${g.eventName} ${g.sourceId}: ${g.sentence}`),
  };
};
