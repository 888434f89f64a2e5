/** `GET /api/clearance`: Signal, gates and figure of every question */
import type { QuestionClearance } from '../clearance/question-clearance';
import { answer, endpoint } from './endpoint';

export const clearance = endpoint({
  method: 'GET',
  path: '/api/clearance',
  title: 'Signal, gates and figure of every question',
  role: 'reader',
  answeredBy: 'analysis',
  answer: answer<readonly QuestionClearance[]>('Questions of the draft, under the version in force.'),
  lens: ['traffic'],
});
