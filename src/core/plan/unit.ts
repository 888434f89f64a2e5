/** The closed list of units: symbol, dimension, factor to the dimension's base. */
export const DIMENSIONS = ['time', 'mass', 'length', 'share', 'count', 'money', 'data'] as const;
export type Dimension = (typeof DIMENSIONS)[number];

export interface Unit {
  readonly symbol: string;
  readonly title: string;
  readonly dimension: Dimension;
  /** Of the dimension's base unit (s, kg, m, 1, count, byte). For money it depends on the currency: see `convert`. */
  readonly factor: number;
}

/** Factors: SI Brochure, 9th edition, tables 2, 5 and 8 (from memory); a byte is 8 bits, and kB and MB are powers of 1000. */
const list: readonly Unit[] = [
  { symbol: 'ms', title: 'milliseconds', dimension: 'time', factor: 0.001 },
  { symbol: 's', title: 'seconds', dimension: 'time', factor: 1 },
  { symbol: 'min', title: 'minutes', dimension: 'time', factor: 60 },
  { symbol: 'h', title: 'hours', dimension: 'time', factor: 3600 },
  { symbol: 'd', title: 'days', dimension: 'time', factor: 86_400 },
  { symbol: 'wk', title: 'weeks', dimension: 'time', factor: 604_800 },
  { symbol: 'g', title: 'grams', dimension: 'mass', factor: 0.001 },
  { symbol: 'kg', title: 'kilograms', dimension: 'mass', factor: 1 },
  { symbol: 'mm', title: 'millimetres', dimension: 'length', factor: 0.001 },
  { symbol: 'cm', title: 'centimetres', dimension: 'length', factor: 0.01 },
  { symbol: 'm', title: 'metres', dimension: 'length', factor: 1 },
  { symbol: 'km', title: 'kilometres', dimension: 'length', factor: 1000 },
  { symbol: '%', title: 'percent', dimension: 'share', factor: 0.01 },
  { symbol: 'share', title: 'a share from 0 to 1', dimension: 'share', factor: 1 },
  { symbol: 'count', title: 'a count', dimension: 'count', factor: 1 },
  { symbol: 'B', title: 'bytes', dimension: 'data', factor: 1 },
  { symbol: 'kB', title: 'kilobytes', dimension: 'data', factor: 1000 },
  { symbol: 'MB', title: 'megabytes', dimension: 'data', factor: 1_000_000 },
  { symbol: 'minor units', title: 'minor units of the currency', dimension: 'money', factor: 1 },
  { symbol: 'major units', title: 'major units of the currency', dimension: 'money', factor: 1 },
];

export const UNITS: ReadonlyMap<string, Unit> = new Map(list.map((u) => [u.symbol, u]));

/** Whether values of the two units can be turned into each other. */
export const areCompatible = (a: string, b: string): boolean => {
  const x = UNITS.get(a);
  const y = UNITS.get(b);
  return x !== undefined && y !== undefined && x.dimension === y.dimension;
};

/** The units that values of this one can be turned into, itself left out. */
export const compatibleUnits = (symbol: string): Unit[] => list.filter((u) => u.symbol !== symbol && areCompatible(u.symbol, symbol));

/** A value in another unit of the same dimension; `undefined` across dimensions or off the list.
 *  Shape: `minorDigits` is the number of digits after the point of the currency (2 for most), used for money alone.
 *  Units: the value is in `from`, the answer in `to`.
 *  Source: factors as stated at the list; minor units by ISO 4217.
 */
export const convert = (value: number, from: string, to: string, minorDigits = 2): number | undefined => {
  const a = UNITS.get(from);
  const b = UNITS.get(to);
  if (!a || !b || a.dimension !== b.dimension) return undefined;
  if (from === to) return value;
  if (a.dimension === 'money') return from === 'major units' ? value * 10 ** minorDigits : value / 10 ** minorDigits;
  // A division where the target is the greater unit keeps whole numbers whole.
  return a.factor >= b.factor ? value * (a.factor / b.factor) : value / (b.factor / a.factor);
};

const HINTS: readonly (readonly [readonly string[], string])[] = [
  [['days', 'day'], 'd'],
  [['weeks'], 'wk'],
  [['hours', 'hour'], 'h'],
  [['minutes', 'minute', 'mins'], 'min'],
  [['seconds', 'second', 'secs', 'duration'], 's'],
  [['ms', 'millis', 'milliseconds', 'latency'], 'ms'],
  [['count', 'number', 'quantity', 'results', 'length', 'position', 'index', 'age', 'size'], 'count'],
  [['percent', 'percentage'], '%'],
  [['share', 'ratio'], 'share'],
  [['cents', 'minor', 'amount', 'price', 'fee', 'deposit', 'revenue', 'total'], 'minor units'],
  [['weight'], 'kg'],
  [['distance', 'height', 'width'], 'm'],
  [['bytes'], 'B'],
];

/** The unit that the words of a name suggest, if any; the last telling word wins (`loan_days` → d). */
export const unitHint = (words: readonly string[]): string | undefined => {
  for (const w of [...words].reverse()) {
    const hint = HINTS.find(([ws]) => ws.includes(w));
    if (hint) return hint[1];
  }
  return undefined;
};
