/** Active persons under each counting basis. */
import { settingsOf, type Plan } from '../plan/plan';
import { periodsBetween } from '../questions/calendar';
import { PERIODS, type Period } from '../questions/formula';
import { personsByBasis, type CountingBasis } from './counting-basis';
import { personsWithin } from './person-facts';
import type { Persons } from './persons';

export interface ActivePeriod {
  readonly period: Period;
  /** Begin of the last whole period, UTC epoch ms. */
  readonly at: number;
  readonly persons: { readonly [B in CountingBasis]: number };
}

const MONTH_WINDOW_MS = 70 * 86_400_000;

/** Persons of the last whole day, week and month under each basis, on the same messages. */
export const activePeriods = (plan: Plan, persons: Persons, now: number): ActivePeriod[] => {
  const { timeZone, weekStartsOn } = settingsOf(plan);
  const spans = PERIODS.map((period) => {
    const { starts, count } = periodsBetween(period, now - MONTH_WINDOW_MS, now, timeZone, weekStartsOn);
    return [starts[count - 2]!, starts[count - 1]!] as const;
  });
  const by = personsByBasis(persons);
  const of = {
    'device only': personsWithin(by['device only'], spans),
    'user ID first': personsWithin(by['user ID first'], spans),
    'fully linked': personsWithin(by['fully linked'], spans),
  };
  return PERIODS.map((period, i) => ({
    period,
    at: spans[i]![0],
    persons: {
      'device only': of['device only'][i]!.size,
      'user ID first': of['user ID first'][i]!.size,
      'fully linked': of['fully linked'][i]!.size,
    },
  }));
};
