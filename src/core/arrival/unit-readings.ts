/** What numbers of one unit look like when they are sent in another. */
import { minorDigits } from '../plan/currency';
import { UNITS } from '../plan/unit';

export interface UnitReading {
  /** How many times the planned value the sent one is. */
  readonly factor: number;
  /** The unit that it then is, in words. */
  readonly sent: string;
}

/** Units that no plan has and people send all the same. Factors to the base of their dimension. Source: NIST Handbook 44, appendix C (from memory). */
const FOREIGN: readonly { readonly title: string; readonly dimension: string; readonly factor: number }[] = [
  { title: 'pounds', dimension: 'mass', factor: 0.45359237 },
  { title: 'ounces', dimension: 'mass', factor: 0.028349523125 },
  { title: 'miles', dimension: 'length', factor: 1609.344 },
  { title: 'feet', dimension: 'length', factor: 0.3048 },
  { title: 'inches', dimension: 'length', factor: 0.0254 },
  { title: 'kibibytes', dimension: 'data', factor: 1024 },
];

/** Of a number without a unit, what is mostly mistaken; both units in words. */
const UNKNOWN: readonly UnitReading[] = [
  { factor: 60, sent: 'the smaller of two units, such as seconds for minutes' },
  { factor: 3600, sent: 'the smaller of two units, such as seconds for hours' },
  { factor: 24, sent: 'the smaller of two units, such as hours for days' },
  { factor: 86_400, sent: 'the smaller of two units, such as seconds for days' },
  { factor: 7, sent: 'the smaller of two units, such as days for weeks' },
  { factor: 100, sent: 'hundredths' },
  { factor: 1000, sent: 'thousandths' },
];

const withInverse = (list: readonly UnitReading[]): UnitReading[] => [
  ...list,
  ...list.map((r) => ({
    factor: 1 / r.factor,
    sent: r.sent
      .replace('the smaller', 'the greater')
      .replace(/^hundredths$/, 'hundreds')
      .replace(/^thousandths$/, 'thousands'),
  })),
];

/** Every other unit that values of a planned unit may have been sent in. Shape: none for counts, and for what has no other unit. */
export const readingsOf = (unit: string, currency: string): UnitReading[] => {
  const planned = UNITS.get(unit);
  if (!planned) return unit === '' ? withInverse(UNKNOWN) : [];
  if (planned.dimension === 'count') return [];
  if (planned.dimension === 'money') {
    const times = 10 ** minorDigits(currency);
    if (times === 1) return [];
    return unit === 'major units'
      ? [{ factor: times, sent: 'minor units of the currency' }]
      : [{ factor: 1 / times, sent: 'major units of the currency' }];
  }
  const own = [...UNITS.values()].filter((u) => u.dimension === planned.dimension && u.symbol !== unit);
  return [...own, ...FOREIGN.filter((u) => u.dimension === planned.dimension)].map((u) => ({
    factor: planned.factor / u.factor,
    sent: u.title,
  }));
};

/** The planned unit in words; empty for none. */
export const unitWords = (unit: string): string => UNITS.get(unit)?.title ?? unit;
