import { entries } from '../../plan/plan';
import { defineMessageCheck } from '../check';

export interface NoIdentifier {
  /** Kinds that the plan knows. */
  readonly kinds: readonly string[];
}

export const noIdentifier = defineMessageCheck({
  id: 'no-identifier',
  on: 'no identifiers',
  title: 'No identifier',
  why: 'A message of nobody is in no figure that counts persons.',
  example: { wrong: '`"ids": {}`', right: '`"ids": {"anonymous": "a-71f3"}`' },
  severity: 'stop',
  shows: 'ids',
  fixer: () => 'source',
  expected: (p: NoIdentifier) => `one of ${p.kinds.join(', ')}`,
  received: () => 'none of them',
  message: (p: NoIdentifier) => `came without any identifier (${p.kinds.join(', ')})`,
  cause: () => 'The identifiers were not known yet when the message was made, or they were sent as properties.',
  fix: () => 'Send in `ids` at least one identifier of a kind that the plan has.',
  compile(plan) {
    const kinds = entries(plan, 'identifierKind').map(([, k]) => k.name);
    return kinds.length === 0 ? undefined : () => ({ kinds });
  },
});
