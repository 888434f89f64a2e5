import { defineMessageCheck, shown } from '../check';

export interface MalformedIdentifier {
  readonly kind: string;
  readonly value: string;
  readonly pattern: string;
}

export const malformedIdentifier = defineMessageCheck({
  id: 'malformed-identifier',
  on: 'message',
  title: 'Malformed identifier',
  why: 'An identifier in another form joins to nothing, and its person is counted twice.',
  severity: 'stop',
  shows: 'ids',
  mender: () => 'source',
  expected: (p: MalformedIdentifier) => `a ${p.kind} ID of the pattern ${p.pattern}`,
  received: (p: MalformedIdentifier) => shown(p.value),
  message: (p: MalformedIdentifier) => `came with ${shown(p.value)} as its ${p.kind} ID, which is not of the pattern ${p.pattern}`,
  cause: () => 'The source sends another field, or writes the identifier in another way.',
  mend: (p: MalformedIdentifier) => `Send the ${p.kind} ID as ${p.pattern}, or change the pattern in the plan.`,
});
