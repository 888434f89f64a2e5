/** The part of a recorded message that a finding is read from, on one line. */
import type { LiveMessage } from './live-message';
import { masked } from './personal-data';
import type { Shown } from './check';

/** A value with the personal data in all its texts and keys replaced by what it is.
 *  Shape: as the value; it is not changed itself.
 */
export const maskedDeep = (v: unknown): unknown => {
  if (typeof v === 'string') return masked(v);
  if (Array.isArray(v)) return v.map(maskedDeep);
  if (typeof v === 'object' && v !== null) return Object.fromEntries(Object.entries(v).map(([k, own]) => [masked(k), maskedDeep(own)]));
  return v;
};

const instant = (at: number): string => (Math.abs(at) <= 8.64e15 ? new Date(at).toISOString() : String(at));

/** What shows a finding in a message.
 *  Shape: one line; JSON but for times, which say both clocks. Personal data is left in: this is for the place where it arrived.
 */
export const excerptOf = (shown: Shown, m: Pick<LiveMessage, 'name' | 'body' | 'occurredAt' | 'receivedAt'>): string => {
  const json = (v: unknown): string => JSON.stringify(v ?? {});
  switch (shown) {
    case 'page':
      return typeof m.body['page'] === 'string' ? m.body['page'] : 'no page';
    case 'ids':
      return json(m.body['ids']);
    case 'user properties':
      return json(m.body['user_properties']);
    case 'times':
      return `happened ${instant(m.occurredAt)}, received ${instant(m.receivedAt)}`;
    case 'name':
      return `${m.name} ${json(m.body['properties'])}`;
    case 'properties':
      return json(m.body['properties']);
  }
};
