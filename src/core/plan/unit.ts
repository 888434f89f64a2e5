/** The closed list of units: symbol, dimension, factor to the dimension's base. */
export interface Unit {
  readonly symbol: string;
  readonly title: string;
  readonly dimension: 'time' | 'mass' | 'length' | 'share' | 'count' | 'money';
  readonly factor: number;
}

const list: readonly Unit[] = [
  { symbol: 'ms', title: 'milliseconds', dimension: 'time', factor: 0.001 },
  { symbol: 's', title: 'seconds', dimension: 'time', factor: 1 },
  { symbol: 'min', title: 'minutes', dimension: 'time', factor: 60 },
  { symbol: 'h', title: 'hours', dimension: 'time', factor: 3600 },
  { symbol: 'd', title: 'days', dimension: 'time', factor: 86_400 },
  { symbol: 'g', title: 'grams', dimension: 'mass', factor: 0.001 },
  { symbol: 'kg', title: 'kilograms', dimension: 'mass', factor: 1 },
  { symbol: 'm', title: 'metres', dimension: 'length', factor: 1 },
  { symbol: 'km', title: 'kilometres', dimension: 'length', factor: 1000 },
  { symbol: '%', title: 'percent', dimension: 'share', factor: 0.01 },
  { symbol: 'count', title: 'a count', dimension: 'count', factor: 1 },
  { symbol: 'minor units', title: 'minor units of the currency', dimension: 'money', factor: 1 },
  { symbol: 'major units', title: 'major units of the currency', dimension: 'money', factor: 1 },
];

export const UNITS: ReadonlyMap<string, Unit> = new Map(list.map((u) => [u.symbol, u]));

const HINTS: readonly (readonly [readonly string[], string])[] = [
  [['days', 'day'], 'd'],
  [['hours', 'hour'], 'h'],
  [['minutes', 'minute', 'mins'], 'min'],
  [['seconds', 'second', 'secs'], 's'],
  [['count', 'number', 'quantity', 'results', 'length'], 'count'],
  [['percent', 'percentage', 'share'], '%'],
  [['cents', 'minor', 'amount', 'price', 'fee', 'deposit'], 'minor units'],
  [['weight'], 'kg'],
  [['distance'], 'm'],
];

/** The unit that the words of a name suggest, if any; the last telling word wins (`loan_days` → d). */
export const unitHint = (words: readonly string[]): string | undefined => {
  for (const w of [...words].reverse()) {
    const hint = HINTS.find(([ws]) => ws.includes(w));
    if (hint) return hint[1];
  }
  return undefined;
};
