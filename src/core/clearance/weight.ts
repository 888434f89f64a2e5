/** How much a finding weighs for a question. */
import type { FindingGroup } from '../arrival/finding-group';
import type { Thresholds } from '../plan/plan';
import { ended } from '../sentence';
import { wilson } from '../stats/wilson';
import type { MessageTable } from '../table/message-table';
import type { Signal } from './gate';
import type { Affected } from './lowering';

const RANK: readonly Signal[] = ['stop', 'caution', 'open', 'clear'];

/** The worst of signals; clear of none. */
export const worstSignal = (signals: readonly Signal[]): Signal => RANK.find((s) => signals.includes(s)) ?? 'clear';

/** By its own severity. */
export const bySeverity = (g: Pick<FindingGroup, 'severity'>): Signal =>
  g.severity === 'stop' ? 'stop' : g.severity === 'caution' ? 'caution' : 'clear';

/** What is found, in a few words. */
export const foundBrief = ([first, ...more]: readonly Pick<FindingGroup, 'title'>[]): string =>
  `${first?.title ?? ''}${more.length > 0 ? `, and ${more.length} more` : ''}`;

/** The first of what is found as a sentence, and how many more there are; empty of none. */
export const foundText = ([first, ...more]: readonly Pick<FindingGroup, 'sentence'>[]): string =>
  first ? `${ended(first.sentence)}${more.length > 0 ? ` And ${more.length} more.` : ''}` : '';

/** What the surely right share of messages, or of people, comes to. */
export const signalOf = (low: number, { clear, caution }: Thresholds): Signal =>
  low >= clear ? 'clear' : low >= caution ? 'caution' : 'stop';

/** Messages of a question's events, of which a finding may spoil some: those of its own events where it names any. */
export const baseOf = (table: MessageTable, { names }: Pick<Affected, 'names'>, g: Pick<FindingGroup, 'touches'>): number => {
  const own = g.touches.filter((n) => names.has(n));
  let n = 0;
  for (const name of own.length > 0 ? own : names) n += table.rowsOf(name).length;
  return n;
};

/** By the share of messages that it leaves right, whose lower bound the question's thresholds judge; by its severity where it counts none. `base` are
 *  all messages of the events that it touches: what is wrong in one small release alone is a small part of them.
 *  Source: Wilson 1927, 95 %.
 */
export const byShare = (g: Pick<FindingGroup, 'severity' | 'count'>, base: number, thresholds: Thresholds): Signal => {
  const of = Math.max(base, g.count);
  const interval = g.count > 0 ? wilson(of - g.count, of) : undefined;
  return interval ? signalOf(interval.low, thresholds) : bySeverity(g);
};

/** By the share that did not come of all that there would be: those that came, and those. */
export const byMissing = (missing: number, { severity }: Pick<FindingGroup, 'severity'>, base: number, thresholds: Thresholds): Signal =>
  byShare({ severity, count: Math.round(missing) }, base + Math.round(missing), thresholds);
