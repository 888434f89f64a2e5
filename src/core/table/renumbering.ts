/** What becomes of numbers of persons when some turn out to be the same: states by person are carried over, and only those who were joined looked at again. */
import { GrowingBits } from './bitset';

/** `gone` is the same as `kept`, and all behind it move up by one. */
export interface Joined {
  readonly kept: number;
  readonly gone: number;
}

export interface Renumbering {
  /** Number of before → number of now. */
  readonly to: Int32Array;
  /** Those of now who were several. */
  readonly joined: ReadonlySet<number>;
}

const after = (n: number, { kept, gone }: Joined): number => (n === gone ? kept : n > gone ? n - 1 : n);

/** A number after some were joined, one after the other; −1 stays what it is. */
export const numberAfter = (n: number, joins: readonly Joined[]): number => joins.reduce(after, n);

/** All of that at once. `count`: so many numbers there were. */
export const renumberingOf = (joins: readonly Joined[], count: number): Renumbering => {
  const to = new Int32Array(count);
  for (let i = 0; i < count; i++) to[i] = i;
  let joined = new Set<number>();
  for (const j of joins) {
    for (let i = 0; i < count; i++) to[i] = after(to[i]!, j);
    joined = new Set([...joined].map((n) => after(n, j))).add(j.kept);
  }
  return { to, joined };
};

/** A set of persons under their numbers of now. */
export const bitsAfter = (before: GrowingBits, { to }: Renumbering): GrowingBits => {
  const out = new GrowingBits();
  for (let i = 0; i < to.length; i++) if (before.has(i)) out.add(to[i]!);
  return out;
};

/** Numbers by person under their numbers of now, those of who were joined put together by `both`; 0 is nothing. */
export const byPersonAfter = (before: Int32Array, { to }: Renumbering, both: (a: number, b: number) => number): Int32Array<ArrayBuffer> => {
  const out = new Int32Array(before.length);
  const length = Math.min(before.length, to.length);
  for (let i = 0; i < length; i++) {
    const b = before[i]!;
    if (b === 0) continue;
    const a = out[to[i]!]!;
    out[to[i]!] = a === 0 ? b : both(a, b);
  }
  return out;
};
