/** Which mutants are tried: drawn at random, the same for the same seed. */
import { seeded } from '../../src/demo/random';

interface Place {
  readonly line: number;
  readonly column: number;
}
export interface Mutant {
  /** By which it is chosen while a test runs. */
  readonly id: string;
  /** From the root of the project. */
  readonly file: string;
  readonly mutator: string;
  readonly replacement: string;
  readonly start: Place;
  readonly end: Place;
}

/** Files whose mutants say nothing: migrations are never changed again, and types and lists of words have no behaviour of their own. */
export const isTried = (file: string): boolean => !file.includes('/migrations/');

/** So many of all, each as likely as the others, in the order of the draw. */
export const drawn = (all: readonly Mutant[], count: number, seed: number): Mutant[] => {
  const rng = seeded(seed);
  const left = [...all];
  const out: Mutant[] = [];
  while (out.length < count && left.length > 0) {
    const at = rng.int(0, left.length - 1);
    out.push(left[at]!);
    left[at] = left.at(-1)!;
    left.pop();
  }
  return out;
};
