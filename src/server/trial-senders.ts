/** Messages of testers who are told by the address that they send from. No address is kept with a message: only while such a run is open, and only
 *  which messages are of it.
 */
import type { MessageAnswer } from '../core/api/intake';
import { addressRuns, keepSenders } from '../db/trial-store';
import { plainAddress } from './callers';
import { database } from './context';
import { logError } from './log';

const MEMORY_MS = 2000;

let known: Promise<Awaited<ReturnType<typeof addressRuns>>> = Promise.resolve([]);
let until = 0;

/** Notes what came from an address for the runs that wait for it; without one it costs a look every two seconds. Errors: none, the messages are taken in already. */
export const noteSender = async (from: string, sourceId: string, answers: readonly MessageAnswer[]): Promise<void> => {
  try {
    if (Date.now() > until) {
      until = Date.now() + MEMORY_MS;
      known = addressRuns(database());
    }
    const runs = (await known).filter((r) => r.address === plainAddress(from));
    if (runs.length === 0) return;
    const ids = answers.flatMap((a) => ('id' in a && a.answer !== 'duplicate' ? [a.id] : []));
    if (ids.length > 0) for (const run of runs) await keepSenders(database(), run.id, sourceId, ids);
  } catch (e) {
    logError(e, 'which messages are of a trial could not be kept');
  }
};
