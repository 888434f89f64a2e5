/** The published version, with its checker compiled. Kept by number: a version never changes. */
import { compileChecker, type Checker } from '../core/arrival/compile';
import type { PublishedPlan } from '../core/plan/version';
import { loadVersion, newestNumber } from '../db/plan-store';
import { database } from './context';

interface Compiled {
  readonly version: PublishedPlan;
  readonly checker: Checker;
}

const byNumber = new Map<number, Promise<Compiled>>();
const KEPT = 5;

const load = async (number: number): Promise<Compiled> => {
  const version = await loadVersion(database(), number);
  if (!version) throw new Error(`version ${number} is not there`);
  return { version, checker: compileChecker(version.plan) };
};

/** A version and its checker. */
export const compiledVersion = (number: number): Promise<Compiled> => {
  let known = byNumber.get(number);
  if (!known) {
    known = load(number);
    known.catch(() => byNumber.delete(number));
    byNumber.set(number, known);
    if (byNumber.size > KEPT) byNumber.delete(Math.min(...byNumber.keys()));
  }
  return known;
};

export const newestVersion = async (): Promise<PublishedPlan | undefined> => {
  const number = await newestNumber(database());
  return number === 0 ? undefined : (await compiledVersion(number)).version;
};
