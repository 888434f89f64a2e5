/** `GET /api/read-tokens`: Tokens with which other pages read the answers */
import { answer, endpoint } from './endpoint';

export interface ReadToken {
  readonly id: number;
  readonly label: string;
  readonly author: string;
  /** UTC epoch ms. */
  readonly createdAt: number;
  readonly lastUsedAt?: number | undefined;
}

export const readTokens = endpoint({
  method: 'GET',
  path: '/api/read-tokens',
  title: 'Tokens with which other pages read the answers',
  role: 'editor',
  answer: answer<readonly ReadToken[]>('Those in use, newest first, without the tokens themselves.'),
});
