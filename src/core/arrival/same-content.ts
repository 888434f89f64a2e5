/** Whether two messages under one ID say the same: then one of them was sent again. */
import { sameValue } from '../plan/edit';
import { canonicalJson } from '../plan/content-hash';
import { textHash } from '../table/text-hash';
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

/** A short name for what a message says: messages that say the same have the same. */
export const contentKey = (m: Message): string => textHash(canonicalJson(contentOf(m)));
