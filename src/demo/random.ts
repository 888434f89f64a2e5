/** Seeded randomness for the generator. */
export interface Rng {
  /** Uniform in [0, 1). */
  next(): number;
  chance(p: number): boolean;
  pick<T>(items: readonly T[]): T;
  int(low: number, high: number): number;
  /** Exponential with this mean. */
  exponential(mean: number): number;
  hex(digits: number): string;
}

/** mulberry32 (T. Ettinger, public domain), 32 bits of state: enough for a demo, the same on every machine. */
export const seeded = (seed: number): Rng => {
  let a = seed >>> 0;
  const next = (): number => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = a;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
  return {
    next,
    chance: (p) => next() < p,
    pick: (items) => items[Math.floor(next() * items.length)]!,
    int: (low, high) => low + Math.floor(next() * (high - low + 1)),
    exponential: (mean) => -Math.log(1 - next()) * mean,
    hex: (digits) => Array.from({ length: digits }, () => Math.floor(next() * 16).toString(16)).join(''),
  };
};
