/** What became of a question's signal is noted in the order of looking, whoever is ready first. */
import { afterAll, beforeAll, expect, test } from 'vitest';
import { openDatabase, type Database } from '../../src/db/database';
import { noteSignals, notedSignals } from '../../src/db/sign-off-store';
import { testDatabase } from '../build/database';

let database: Database;
beforeAll(async () => {
  database = openDatabase(await testDatabase('signals_store_test', 'empty'));
});
afterAll(() => database.pool.end());

const gates = (signal: 'clear' | 'stop') => ({ fresh: { signal, evidence: '' } });
const note = (at: number, signal: 'clear' | 'stop', questionId = 'q'): Promise<number> =>
  noteSignals(database, at, 1, [{ questionId, signal, gates: gates(signal) }]);

test('a look that began earlier and is ready later tells nothing; another question is not held up by it', async () => {
  await note(1000, 'clear');
  await note(3000, 'stop');
  await note(2000, 'clear');
  await note(2000, 'clear', 'other');
  await note(3500, 'stop');
  await note(4000, 'clear');
  const noted = await notedSignals(database, 0);
  expect(noted.get('q')!.map((n) => [n.at, n.signal])).toEqual([[1000, 'clear'], [3000, 'stop'], [4000, 'clear']]); // prettier-ignore
  expect(noted.get('other')!.map((n) => [n.at, n.signal])).toEqual([[2000, 'clear']]);
});
