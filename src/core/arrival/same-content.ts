/** Whether two messages under one ID say the same: then one of them was sent again. */
import { sameValue } from '../plan/edit';
import { canonicalJson } from '../plan/content-hash';
import { textHash, type Lanes } from '../table/text-hash';
import type { Message } from './message';

/** What a message says; how its JSON is laid out, and what is carried beside the known fields, does not count. */
const contentOf = (m: Message) => ({
  kind: m.kind,
  name: m.name,
  at: m.occurredAt,
  ids: m.ids,
  properties: m.properties,
  userProperties: m.userProperties,
  release: m.release,
  page: m.page,
  environment: m.environment ?? null,
  marks: m.marks ? [...m.marks].sort() : null,
  consent: m.consent ?? null,
});

export const sameContent = (a: Message, b: Message): boolean => sameValue(contentOf(a), contentOf(b));

/** Takes a value into a hash: no two that differ give it the same to take. */
const take = (to: Lanes, v: unknown): void => {
  switch (typeof v) {
    case 'string':
      to.number(1).add(v);
      return;
    case 'object': {
      if (v === null) {
        to.number(2);
        return;
      }
      if (Array.isArray(v)) {
        to.number(3).number(v.length);
        for (const x of v) take(to, x ?? null);
        return;
      }
      const o = v as Record<string, unknown>;
      const keys = Object.keys(o);
      if (keys.length > 1) keys.sort();
      to.number(4);
      for (const k of keys)
        if (o[k] !== undefined) {
          to.add(k);
          take(to, o[k]);
        }
      to.number(5);
      return;
    }
    case 'undefined':
      to.number(2);
      return;
    default:
      // As JSON has them: −0 is 0.
      to.number(6).add(JSON.stringify(v));
  }
};

/** What a message says, as two numbers to a place in a list: those of another message practically never are the same. */
export const hashContent = (lanes: Lanes, m: Message, to: Uint32Array, at: number): void => {
  take(lanes.begin(), contentOf(m));
  lanes.end(to, at);
};

/** A short name for what a message says: messages that say the same have the same. */
export const contentKey = (m: Message): string => textHash(canonicalJson(contentOf(m)));
