import { defineMessageCheck } from '../check';
import type { PersonalData } from '../personal-data';
import { aOrAn } from './personal-data';

export interface PersonalIdentifier {
  readonly kind: string;
  readonly data: PersonalData;
}

export const personalIdentifier = defineMessageCheck({
  id: 'personal-identifier',
  on: 'message',
  title: 'Personal data as an identifier',
  why: 'It may change, so one person becomes two; and it spreads to every place that keeps an identifier.',
  severity: 'stop',
  shows: 'ids',
  mender: () => 'source',
  expected: (p: PersonalIdentifier) => `a ${p.kind} ID that says nothing of the person`,
  received: (p: PersonalIdentifier) => aOrAn(p.data),
  message: (p: PersonalIdentifier) => `came with ${aOrAn(p.data)} as its ${p.kind} ID`,
  cause: () => 'The source has no access to the right identifier and sends what it has.',
  mend: (p: PersonalIdentifier) => `Send the ${p.kind} ID of the plan; give the source a way to look it up.`,
});
