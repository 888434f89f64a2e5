/** The messages of one person among those that are in sight, by any identifier. */
import { isPlaceholderId } from '../identity/placeholder';
import type { RecordedMessage } from './live-message';

type Carrier = Pick<RecordedMessage, 'body'>;

/** The identifiers of a message as text, by kind. */
export const identifiersOf = ({ body }: Carrier): { readonly [kind: string]: string } => {
  const ids = body['ids'];
  if (typeof ids !== 'object' || ids === null) return {};
  return Object.fromEntries(
    Object.entries(ids).flatMap(([k, v]): [string, string][] => (typeof v === 'string' || typeof v === 'number' ? [[k, String(v)]] : [])),
  );
};

/** Every identifier that stands beside `start` on one of the messages, or beside one of those, and so on.
 *  Shape: `start` first; placeholders are left out. A message with another user ID than the one that is known already is somebody
 *  else's, although the device is the same: it adds nothing.
 */
export const identifiersOfMe = (start: string, messages: readonly Carrier[]): ReadonlySet<string> => {
  const mine = new Set([start]);
  let user: string | undefined;
  for (let grown = true; grown;) {
    grown = false;
    for (const m of messages) {
      const ids = identifiersOf(m);
      const values = Object.values(ids);
      if (!values.some((v) => mine.has(v))) continue;
      const own = ids['user'];
      if (own !== undefined && !isPlaceholderId(own)) {
        if (user !== undefined && own !== user) continue;
        user = own;
      }
      for (const v of values)
        if (!mine.has(v) && !isPlaceholderId(v)) {
          mine.add(v);
          grown = true;
        }
    }
  }
  return mine;
};

/** Whether a message is mine: one of its identifiers is, and its user ID, where it has one, is no other's. */
export const isMine = (mine: ReadonlySet<string>, m: Carrier): boolean => {
  const ids = identifiersOf(m);
  const user = ids['user'];
  return Object.values(ids).some((v) => mine.has(v)) && (user === undefined || mine.has(user) || isPlaceholderId(user));
};
