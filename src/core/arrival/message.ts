/** A message as it comes in, read by hand: this runs for every message, and says itself what is wrong with it. */
import { isObject } from '../plan/property-path';
import { parseInstant } from '../plan/property-type';
import { CONSENTS, MARKS, type Consent, type Mark, type MessageKind } from '../table/message-kinds';

export interface Message {
  readonly id: string;
  readonly kind: MessageKind;
  /** Name of the event; empty for the other kinds. */
  readonly name: string;
  /** UTC epoch ms. */
  readonly occurredAt: number;
  readonly ids: { readonly [kind: string]: string };
  readonly properties: { readonly [name: string]: unknown };
  readonly userProperties: { readonly [name: string]: unknown };
  readonly release: string;
  readonly page: string;
  /** As the message says them; left out where it does not. */
  readonly environment?: string | undefined;
  readonly marks?: readonly Mark[] | undefined;
  readonly consent?: Consent | undefined;
  /** The share of devices that send such messages, more than 0 and less than 1; left out where all do, or it is not said. */
  readonly sampleRate?: number | undefined;
  /** How many messages the sender let go before this one; left out where none. */
  readonly lostBefore?: number | undefined;
}

export type RejectionReason = 'not an object' | 'no message ID' | 'no name' | 'no time' | 'time not RFC 3339' | 'bad field' | 'too large';

export interface Rejected {
  readonly reason: RejectionReason;
  /** What is wrong and how to fix it. */
  readonly detail: string;
}

export type ReadResult = { readonly ok: true; readonly message: Message } | { readonly ok: false; readonly rejected: Rejected };

/** Longest names, in characters, and how many of them. What is longer is no name, and would fit no index. */
export const MAX = {
  release: 200,
  environment: 100,
  page: 8000,
  kind: 100,
  kinds: 50,
  identifier: 10_000,
  property: 500,
  properties: 10_000,
} as const;

const EMPTY: { readonly [k: string]: never } = Object.freeze({});
const no = (reason: RejectionReason, detail: string): ReadResult => ({ ok: false, rejected: { reason, detail } });

/** Short texts are looked through here, which is faster than the call. */
const hasNul = (s: string): boolean => {
  if (s.length > 8) return s.includes('\0');
  for (let i = 0; i < s.length; i++) if (s.charCodeAt(i) === 0) return true;
  return false;
};

/** What is too long or too much in the names of an object's fields; `undefined` where nothing is. */
const namesProblem = (field: string, named: Record<string, unknown>, longest: number, max: number): string | undefined => {
  let n = 0;
  let over = false;
  for (const name in named) {
    n++;
    if (name.length > longest) over = true;
  }
  if (over) {
    const name = Object.keys(named).find((k) => k.length > longest)!;
    return `A name in \`${field}\` has ${name.length.toLocaleString('en-GB')} characters, “${name.slice(0, 40)}…”; at most ${longest} are taken.`;
  }
  return n > max
    ? `\`${field}\` has ${n.toLocaleString('en-GB')} fields; at most ${max.toLocaleString('en-GB')} are taken. Send a list, or several messages.`
    : undefined;
};

/** Identifiers as text: the object itself where all are text; numbers become text, null is left out. A kind that is neither comes back. */
const textsOf = (ids: Record<string, unknown>): Record<string, string> | string => {
  let allText = true;
  for (const k in ids) if (typeof ids[k] !== 'string') allText = false;
  if (allText) return ids as Record<string, string>;
  const texts: [string, string][] = [];
  for (const [k, v] of Object.entries(ids)) {
    if (typeof v === 'string' || typeof v === 'number') texts.push([k, String(v)]);
    else if (v !== null) return k;
  }
  return Object.fromEntries(texts);
};

/** What is wrong with the fields that are carried along: marks, consent and environment. */
const carriedProblem = ({ marks, consent, environment }: Record<string, unknown>): string | undefined => {
  if (marks !== undefined && !(Array.isArray(marks) && marks.every((m) => (MARKS as readonly unknown[]).includes(m))))
    return '`marks` is a list of "internal", "test" and "robot".';
  if (consent !== undefined && !(CONSENTS as readonly unknown[]).includes(consent)) return '`consent` is "granted", "denied" or "unknown".';
  if (environment !== undefined && (typeof environment !== 'string' || environment.length > MAX.environment))
    return `\`environment\` is text of at most ${MAX.environment} characters, such as "production".`;
  return undefined;
};

/** Reads a parsed JSON value as a message.
 *  Shape: fields `id`, `name`, `time` (RFC 3339 with zone), and optionally `kind`, `ids`, `properties`, `user_properties`,
 *  `release`, `page`, `marks`, `consent`, `environment`, `sample_rate`, `dropped_before`; further fields are left alone, they stay in the raw message. Identifiers that are numbers become text.
 *  Errors: a rejection with its reason; nothing throws.
 *  Source: own format; times by RFC 3339.
 */
export const readMessage = (v: unknown): ReadResult => {
  if (!isObject(v)) return no('not an object', 'A message is a JSON object with `id`, `name` and `time`.');
  const {
    id,
    name,
    time,
    kind = 'event',
    ids = EMPTY,
    properties = EMPTY,
    user_properties: userProperties = EMPTY,
    release = '',
    page = '',
    sample_rate: rate,
    dropped_before: lost,
  } = v;
  if (typeof id !== 'string' || id === '' || id.length > 200)
    return no('no message ID', '`id` is text of 1 to 200 characters that stays the same when a message is sent again.');
  if (kind !== 'event' && kind !== 'identify' && kind !== 'view' && kind !== 'interaction')
    return no('bad field', '`kind` is "event", "identify", "view" or "interaction".');
  if (kind === 'view' && (typeof page !== 'string' || page === '')) return no('bad field', 'A view says in `page` which page or screen.');
  if (kind === 'event' && (typeof name !== 'string' || name === '' || name.length > 1000))
    return no('no name', '`name` is the name of the event, text of 1 to 1,000 characters.');
  if (typeof time !== 'string') return no('no time', '`time` says when it happened, such as "2026-03-01T09:30:00Z".');
  if (hasNul(id) || (typeof name === 'string' && hasNul(name)) || (typeof release === 'string' && hasNul(release)))
    return no('bad field', '`id`, `name` or `release` contains a NUL character; remove it.');
  const occurredAt = parseInstant(time);
  if (occurredAt === undefined)
    return no(
      'time not RFC 3339',
      `\`time\` is "${time.slice(0, 40)}"; write it with date, time and zone, such as "2026-03-01T09:30:00Z".`,
    );
  if (!isObject(ids)) return no('bad field', '`ids` is an object of identifier kind to value.');
  if (!isObject(properties)) return no('bad field', '`properties` is an object of name to value.');
  if (!isObject(userProperties)) return no('bad field', '`user_properties` is an object of name to value.');
  if (typeof release !== 'string') return no('bad field', '`release` is text.');
  if (typeof page !== 'string') return no('bad field', '`page` is text.');
  if (release.length > MAX.release) return no('bad field', `\`release\` is text of at most ${MAX.release} characters.`);
  if (page.length > MAX.page) return no('bad field', `\`page\` is text of at most ${MAX.page.toLocaleString('en-GB')} characters.`);
  const names =
    namesProblem('ids', ids, MAX.kind, MAX.kinds) ??
    namesProblem('properties', properties, MAX.property, MAX.properties) ??
    namesProblem('user_properties', userProperties, MAX.property, MAX.properties);
  if (names !== undefined) return no('bad field', names);
  const carried = carriedProblem(v);
  if (carried !== undefined) return no('bad field', carried);
  const texts = textsOf(ids);
  if (typeof texts === 'string')
    return no(
      'bad field',
      Array.isArray(ids[texts])
        ? `\`ids.${texts}\` is a list; a message carries one ${texts} ID. Send one message for each.`
        : `\`ids.${texts}\` is text.`,
    );
  for (const kind in texts)
    if (texts[kind]!.length > MAX.identifier)
      return no(
        'bad field',
        `\`ids.${kind}\` has ${texts[kind]!.length.toLocaleString('en-GB')} characters; at most ${MAX.identifier.toLocaleString('en-GB')} are taken.`,
      );
  return {
    ok: true,
    message: {
      id,
      kind,
      name: kind === 'event' ? (name as string) : '',
      occurredAt,
      ids: texts,
      properties,
      userProperties,
      release,
      page,
      environment: v['environment'] as string | undefined,
      marks: v['marks'] as readonly Mark[] | undefined,
      consent: v['consent'] as Consent | undefined,
      sampleRate: typeof rate === 'number' && rate > 0 && rate < 1 ? rate : undefined,
      lostBefore: typeof lost === 'number' && lost > 0 && Number.isSafeInteger(lost) ? lost : undefined,
    },
  };
};
