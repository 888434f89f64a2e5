import { defineMessageCheck } from '../check';

export interface NoIdentifier {
  /** Kinds that the plan knows. */
  readonly kinds: readonly string[];
}

export const noIdentifier = defineMessageCheck({
  id: 'no-identifier',
  on: 'message',
  title: 'No identifier',
  why: 'A message of nobody is in no figure that counts persons.',
  severity: 'stop',
  shows: 'ids',
  mender: () => 'source',
  expected: (p: NoIdentifier) => `one of ${p.kinds.join(', ')}`,
  received: () => 'none of them',
  message: (p: NoIdentifier) => `came without any identifier (${p.kinds.join(', ')})`,
  cause: () => 'The identifiers were not there yet when the message was made, or they stand among the properties.',
  mend: () => 'Send in `ids` at least one identifier of a kind that the plan has.',
});
