/** `GET /api/keys`: Write keys of a source, without the keys themselves */
import { z } from 'zod';
import { answer, endpoint } from './endpoint';

export interface WriteKey {
  readonly id: number;
  readonly label: string;
  /** UTC epoch ms, as all instants here. */
  readonly createdAt: number;
  readonly expiresAt?: number | undefined;
  readonly lastUsedAt?: number | undefined;
  /** Messages a minute; left out for no limit. */
  readonly perMinute?: number | undefined;
}

export const keys = endpoint({
  method: 'GET',
  path: '/api/keys',
  title: 'Write keys of a source, without the keys themselves',
  role: 'editor',
  query: z.object({ source: z.string().default('').describe('ID of the source.') }),
  answer: answer<readonly WriteKey[]>('Keys in use, newest first.'),
});
