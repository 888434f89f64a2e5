/** The short form of `bench faults`. */
import { expect, test } from 'vitest';
import { endAtRandom } from './faults';

test('server and PostgreSQL are ended at random under load: nothing acknowledged is lost or doubled, and the server outlives its database', async () => {
  const after = await endAtRandom({ kills: 6, restarts: 4, seed: 12 });
  expect(after).toMatchObject({ lost: 0, twice: 0, editsLost: 0, died: 0 });
  expect(after.messages).toBeGreaterThan(500);
  expect(after.edits).toBeGreaterThan(10);
}, 180_000);
