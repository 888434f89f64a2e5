/** How much a finding weighs for a question. */
import type { FindingGroup } from '../arrival/finding-group';
import type { Question } from '../plan/plan';
import { wilson } from '../stats/wilson';
import type { Signal } from './gate';

const RANK: readonly Signal[] = ['stop', 'caution', 'open', 'clear'];

/** The worst of signals; clear of none. */
export const worstSignal = (signals: readonly Signal[]): Signal => RANK.find((s) => signals.includes(s)) ?? 'clear';

/** By its own severity. */
export const bySeverity = (g: Pick<FindingGroup, 'severity'>): Signal =>
  g.severity === 'stop' ? 'stop' : g.severity === 'caution' ? 'caution' : 'clear';

/** By the share of messages that it leaves right, whose lower bound the question's thresholds judge; by its severity where it counts none.
 *  Source: Wilson 1927, 95 %.
 */
export const byShare = (g: Pick<FindingGroup, 'severity' | 'count' | 'outOf'>, { clear, caution }: Question['thresholds']): Signal => {
  const interval = g.count > 0 && g.outOf >= g.count ? wilson(g.outOf - g.count, g.outOf) : undefined;
  if (!interval) return bySeverity(g);
  return interval.low >= clear ? 'clear' : interval.low >= caution ? 'caution' : 'stop';
};
