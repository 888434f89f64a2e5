/** What may be said where nothing is found: nothing found is no all-clear before all was looked at. */

export type Looked =
  | 'nothing arrived'
  /** No version is published that anything could be checked by. */
  | 'not checked'
  /** Some of the messages are still to be checked by the newest version. */
  | 'being checked'
  /** Each message is checked; what they are together is still to be looked at. */
  | 'one by one'
  | 'all';

/** How far what arrived is looked at. `manyAt`: when the checks over many looked; `null` where they have not. */
export const lookedAt = (
  { messages, manyAt }: { readonly messages: number; readonly manyAt: number | null },
  { isPublished, isRechecked }: { readonly isPublished: boolean; readonly isRechecked: boolean },
): Looked => {
  if (messages === 0) return 'nothing arrived';
  if (!isPublished) return 'not checked';
  if (!isRechecked) return 'being checked';
  return manyAt === null ? 'one by one' : 'all';
};
