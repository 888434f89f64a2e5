/** `GET /api/person-case`: What one person sent, as a bench case with identifiers renamed */
import type { CaseStep } from '../plan/plan';
import { answer, endpoint, identifierQuery } from './endpoint';

export interface PersonCase {
  readonly steps: readonly CaseStep[];
  /** Persons that it results in under the rules. */
  readonly persons: number;
}

export const personCase = endpoint({
  method: 'GET',
  path: '/api/person-case',
  title: 'What one person sent, as a bench case with identifiers renamed',
  role: 'reader',
  answeredBy: 'analysis',
  query: identifierQuery,
  answer: answer<PersonCase>('The case.'),
  lens: ['traffic', 'rules'],
  errors: { 404: 'The identifier identifies nobody.' },
});
