/** Active persons under each counting basis. */
import { settingsOf, type Plan } from '../plan/plan';
import { periodsBetween } from '../questions/calendar';
import type { Period } from '../questions/formula';
import { Bitset } from '../table/bitset';
import type { Attributed } from '../table/following-persons';
import type { MessageTable } from '../table/message-table';
import { personsByBasis, type CountingBasis } from './counting-basis';
import type { Persons } from './persons';

export interface ActivePeriod {
  readonly period: Period;
  /** Begin of the last whole period, UTC epoch ms. */
  readonly at: number;
  readonly persons: { readonly [B in CountingBasis]: number };
}

const MONTH_WINDOW_MS = 70 * 86_400_000;

/** Persons of the last whole day, week and month under each basis, on the same messages. */
export const activePeriods = (plan: Plan, table: MessageTable, persons: Persons, now: number): ActivePeriod[] => {
  const { timeZone, weekStartsOn } = settingsOf(plan);
  const time = table.time.raw;
  const of = personsByBasis(persons);
  return (['day', 'week', 'month'] as const).map((period) => {
    const periods = periodsBetween(period, now - MONTH_WINDOW_MS, now, timeZone, weekStartsOn);
    const from = periods.starts[periods.count - 2]!;
    const to = periods.starts[periods.count - 1]!;
    const rows: number[] = [];
    for (let row = 0; row < table.length; row++) if (time[row]! >= from && time[row]! < to) rows.push(row);
    const count = ({ personOfMessage: by }: Attributed): number => {
      const seen = new Bitset(table.nodes.length);
      for (const row of rows) if (by[row]! >= 0) seen.add(by[row]!);
      return seen.size;
    };
    return {
      period,
      at: from,
      persons: {
        'device only': count(of['device only']),
        'user ID first': count(of['user ID first']),
        'fully linked': count(of['fully linked']),
      },
    };
  });
};
