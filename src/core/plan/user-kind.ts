/** Which kind of identifier says who is signed in. */
import { entries, type Plan } from './plan';

/** The identifier kind of who is signed in: `user` where the plan has it, else its first kind that identifies a person. */
export const userKindOf = (plan: Plan): string => {
  const kinds = entries(plan, 'identifierKind').map(([, k]) => k);
  return kinds.some((k) => k.name === 'user') ? 'user' : (kinds.find((k) => k.identifies === 'person')?.name ?? 'user');
};
