/** `GET /api/people`: Who is here, and all comments */
import type { Comment } from '../plan/review';
import { answer, endpoint } from './endpoint';

export interface Present {
  readonly session: string;
  readonly author: string;
  /** Address of what they look at. */
  readonly place: string;
}
export interface People {
  readonly present: readonly Present[];
  readonly comments: readonly Comment[];
}

export const people = endpoint({
  method: 'GET',
  path: '/api/people',
  title: 'Who is here, and all comments',
  role: 'reader',
  answer: answer<People>('People and comments.'),
});
