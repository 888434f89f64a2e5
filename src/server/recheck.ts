/** How far the recorded messages are judged by the newest version. */
import { openRechecks } from '../db/recheck-store';
import { database } from './context';

/** How many of the recorded messages the newest version has judged, while it has not judged all. */
export const recheckUnderWay = async (): Promise<{ done: number; total: number } | undefined> => {
  const newest = (await openRechecks(database())).at(-1);
  return newest && { done: newest.done, total: newest.upTo };
};
