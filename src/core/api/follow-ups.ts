/** `GET /api/follow-ups`: Follow-ups */
import type { FollowUp } from '../arrival/follow-ups';
import { answer, endpoint } from './endpoint';

export const followUps = endpoint({
  method: 'GET',
  path: '/api/follow-ups',
  title: 'Follow-ups',
  role: 'reader',
  answeredBy: 'analysis',
  answer: answer<readonly FollowUp[]>('What a person has to look at later.'),
  lens: ['traffic'],
});
