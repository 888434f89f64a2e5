/** The short form of `bench faults`. */
import { expect, test } from 'vitest';
import { endAtRandom } from './faults';
import { draws } from '../build/draws';

test('server and PostgreSQL are ended at random under load: nothing acknowledged is lost or doubled, and the server outlives its database', async () => {
  const after = await endAtRandom({ kills: draws(3, 6), restarts: draws(2, 4), seed: 12 });
  expect(after).toMatchObject({ lost: 0, twice: 0, editsLost: 0, died: 0 });
  expect(after.messages).toBeGreaterThanOrEqual(500);
  expect(after.edits).toBeGreaterThanOrEqual(10);
});
