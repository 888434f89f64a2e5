import { patternOf } from '../../plan/pattern';
import { defineMessageCheck, shown } from '../check';
import { masked } from '../personal-data';

export interface MalformedIdentifier {
  readonly kind: string;
  readonly value: string;
  readonly pattern: string;
}

export const malformedIdentifier = defineMessageCheck({
  id: 'malformed-identifier',
  on: 'identifier',
  title: 'Malformed identifier',
  why: 'An identifier in another form joins to nothing, and its person is counted twice.',
  example: { wrong: '`"user": "7"`, where the pattern is `m-\\d+`', right: '`"user": "m-7"`' },
  severity: 'stop',
  shows: 'ids',
  fixer: () => 'source',
  expected: (p: MalformedIdentifier) => `a ${p.kind} ID of the pattern ${p.pattern}`,
  received: (p: MalformedIdentifier) => shown(p.value),
  message: (p: MalformedIdentifier) => `came with ${shown(p.value)} as its ${p.kind} ID, which is not of the pattern ${p.pattern}`,
  cause: () => 'The source sends another field, or writes the identifier in another way.',
  fix: (p: MalformedIdentifier) => `Send the ${p.kind} ID as ${p.pattern}, or change the pattern in the plan.`,
  compile: () => (planned) => {
    const pattern = patternOf(planned.pattern);
    return (
      pattern &&
      ((value, kind) => (pattern.test(value) ? undefined : { kind, value: masked(value.slice(0, 60)), pattern: planned.pattern }))
    );
  },
});
