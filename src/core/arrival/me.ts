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

/** Every identifier that is beside `start` on one of the messages, or beside one of those, and so on.
 *  Shape: `start` first; placeholders are left out. Where several user IDs were on the same device, mine is that of the message that
 *  carries most of my identifiers, the first of such in the list; a message with another user ID adds nothing. `userKind` is the
 *  identifier kind of who is signed in.
 */
export const identifiersOfMe = (start: string, messages: readonly Carrier[], userKind: string): ReadonlySet<string> => {
  const mine = new Set([start]);
  const all = messages.map((m) => {
    const ids = identifiersOf(m);
    const user = ids[userKind];
    return {
      values: Object.values(ids).filter((v) => !isPlaceholderId(v)),
      user: user !== undefined && !isPlaceholderId(user) ? user : undefined,
    };
  });
  let me = all.some((m) => m.user === start) ? start : undefined;
  const overlap = (m: (typeof all)[number]): number => m.values.filter((v) => mine.has(v)).length;
  for (;;) {
    const before = mine.size;
    for (const m of all) if ((m.user === undefined || m.user === me) && overlap(m) > 0) for (const v of m.values) mine.add(v);
    if (mine.size > before) continue;
    if (me !== undefined) return mine;
    let max = 0;
    for (const m of all)
      if (m.user !== undefined && overlap(m) > max) {
        max = overlap(m);
        me = m.user;
      }
    if (me === undefined) return mine;
    mine.add(me);
  }
};

/** Whether a message is mine: one of its identifiers is, and its user ID, where it has one, is no other's. */
export const isMine = (mine: ReadonlySet<string>, m: Carrier, userKind: string): boolean => {
  const ids = identifiersOf(m);
  const user = ids[userKind];
  return Object.values(ids).some((v) => mine.has(v)) && (user === undefined || mine.has(user) || isPlaceholderId(user));
};
