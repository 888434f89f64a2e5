/** A name and a value that were swapped in a call: each is the other's entry in the plan. */
import { foldName } from '../naming/likeness';
import { entries, type Id, type Plan } from './plan';

/** The user property that was meant when a call set `name` to `value`, where the two were swapped: the value is a planned name, and the
 *  name is one of its allowed values. `undefined` when nothing speaks for it, and always for a name that is planned itself.
 *  Spelling is compared without case and separators, as whoever swaps them has often also written them otherwise.
 */
export const swappedUserProperty = (plan: Plan, name: string, value: unknown): Id | undefined => {
  if (typeof value !== 'string') return undefined;
  const all = entries(plan, 'userProperty');
  if (all.some(([, u]) => u.name === name)) return undefined;
  return all.find(([, u]) => foldName(u.name) === foldName(value) && u.allowed.some((v) => foldName(v) === foldName(name)))?.[0];
};
