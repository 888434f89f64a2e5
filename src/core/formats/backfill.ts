/** Rows of a file as messages: which column is what, and what each cell becomes. */
import { TZDate } from '@date-fns/tz';
import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import { entries, type Plan, type PropertyType } from '../plan/plan';
import { parseInstant } from '../plan/property-type';
import { putAt, refOfProperty, refText, type PropertyRef } from '../plan/property-path';

/** What a column is: a field of the message, written as a path into it, such as `time`, `ids.user` or `properties.branch`. */
export type Target = string;

export interface BackfillMapping {
  /** For each column; `undefined` leaves it out. */
  readonly targets: readonly (Target | undefined)[];
  /** Name of the event where no column holds it. */
  readonly eventName: string;
  /** Zone of times that say none. */
  readonly timeZone: string;
}

export type RowResult = { readonly ok: true; readonly text: string; readonly at: number } | { readonly ok: false; readonly detail: string };

const FIELDS = ['id', 'kind', 'name', 'time', 'release', 'page'] as const;

/** All that a column can be, by the plan. */
export const backfillTargets = (plan: Plan): Target[] => [
  ...FIELDS,
  ...entries(plan, 'identifierKind').map(([, k]) => `ids.${k.name}`),
  ...[...new Set(entries(plan, 'property').map(([, p]) => refText(refOfProperty(p))))].sort().map((n) => `properties.${n}`),
  ...entries(plan, 'userProperty').map(([, p]) => `user_properties.${refText(refOfProperty(p))}`),
];

const OTHER_NAMES: { readonly [heading: string]: (typeof FIELDS)[number] } = {
  'message id': 'id',
  'event id': 'id',
  event: 'name',
  'event name': 'name',
  timestamp: 'time',
  'occurred at': 'time',
  date: 'time',
  version: 'release',
  url: 'page',
  screen: 'page',
};

const plain = (s: string): string =>
  s
    .trim()
    .toLowerCase()
    .replace(/[\s_-]+/g, ' ');

/** What each column is by its heading: a path as it is, a name of the plan, or a common name of a field; each target once. */
export const guessTargets = (header: readonly string[], plan: Plan): (Target | undefined)[] => {
  const planned = new Set(backfillTargets(plan));
  const byPlain = new Map<string, Target>();
  for (const t of backfillTargets(plan)) {
    const name = t.slice(t.indexOf('.') + 1);
    for (const key of [plain(t), plain(name), ...(t.startsWith('ids.') ? [plain(`${name} id`)] : [])])
      if (!byPlain.has(key)) byPlain.set(key, t);
  }
  const taken = new Set<Target>();
  return header.map((h) => {
    const path = /^(ids|properties|user_properties)\.[^.]+$/.test(h) || planned.has(h) ? h : undefined;
    const t = path ?? byPlain.get(plain(h)) ?? OTHER_NAMES[plain(h)];
    if (t === undefined || taken.has(t)) return undefined;
    taken.add(t);
    return t;
  });
};

/** A time as RFC 3339 in UTC. Shape: RFC 3339 with a zone; a date and time without one, taken in `timeZone`; a number or digits, seconds
 *  or milliseconds since 1970 by their size. `undefined` for what is none of these.
 */
/** A cell as text; what is inside of it is written as JSON. */
const textOf = (cell: unknown): string => (typeof cell === 'string' ? cell : JSON.stringify(cell));

export const backfillTime = (v: unknown, timeZone: string): number | undefined => {
  const text = typeof v === 'number' ? String(v) : typeof v === 'string' ? v.trim() : '';
  const zoned = parseInstant(text);
  if (zoned !== undefined) return zoned;
  if (/^\d{9,10}(\.\d+)?$/.test(text)) return Math.round(Number(text) * 1000);
  if (/^\d{12,13}$/.test(text)) return Number(text);
  const m = /^(\d{4})-(\d{2})-(\d{2})(?:[T ](\d{2}):(\d{2})(?::(\d{2})(?:\.(\d{1,9}))?)?)?$/.exec(text);
  if (!m) return undefined;
  const [year, month, day, hour, minute, second] = m.slice(1, 7).map((x) => Number(x ?? 0)) as [
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  if (hour > 23 || minute > 59 || second > 59) return undefined;
  const ms = Math.floor(Number(`0.${m[7] ?? '0'}`) * 1000);
  const local = new TZDate(year, month - 1, day, hour, minute, second, ms, timeZone);
  return local.getMonth() === month - 1 && local.getDate() === day ? local.getTime() : undefined;
};

const NUMBER = /^-?(0|[1-9]\d*)(\.\d+)?([eE][+-]?\d+)?$/;

/** The value of a cell: as the plan types it where the text allows that, otherwise by how it is written. Values of a JSON file stay. */
const cellValue = (cell: unknown, type: PropertyType | undefined): unknown => {
  if (typeof cell !== 'string') return cell;
  const text = cell.trim();
  if (type === undefined ? NUMBER.test(text) && String(Number(text)) === text : /number|integer/.test(type) && NUMBER.test(text))
    return Number(text);
  if ((type === undefined || type === 'boolean') && /^(true|false)$/i.test(text)) return text.toLowerCase() === 'true';
  if (type?.startsWith('list') || type === 'object')
    try {
      return JSON.parse(text) as unknown;
    } catch {
      return cell;
    }
  return cell;
};

/** Makes messages out of rows.
 *  Shape: `cells` as many as there are targets; an empty text is no value. A row without a message ID gets one from its content, so that
 *  the same file imported twice counts once; rows that are the same in every column then count once too.
 *  Errors: what is wrong with the row and how to fix it; nothing throws.
 */
export const rowReader = (plan: Plan, { targets, eventName, timeZone }: BackfillMapping): ((cells: readonly unknown[]) => RowResult) => {
  /** By the target; a name that is alone goes before a path that is shown alike. */
  const planned = new Map<string, { readonly ref: PropertyRef; readonly type: PropertyType }>();
  for (const [part, all] of [
    ['properties', entries(plan, 'property')],
    ['user_properties', entries(plan, 'userProperty')],
  ] as const)
    for (const [, p] of all) {
      const ref = refOfProperty(p);
      const target = `${part}.${refText(ref)}`;
      if (typeof ref === 'string' || !planned.has(target)) planned.set(target, { ref, type: p.type });
    }
  return (cells) => {
    const message: Record<string, unknown> = eventName === '' ? {} : { name: eventName };
    const parts: { readonly [group: string]: Record<string, unknown> } = { ids: {}, properties: {}, user_properties: {} };
    let at: number | undefined;
    for (let i = 0; i < targets.length; i++) {
      const target = targets[i];
      const cell = cells[i];
      if (target === undefined || cell === undefined || cell === null || (typeof cell === 'string' && cell.trim() === '')) continue;
      const dot = target.indexOf('.');
      const group = dot < 0 ? undefined : parts[target.slice(0, dot)];
      if (group) {
        const known = planned.get(target);
        const value = target.startsWith('ids.') ? cell : cellValue(cell, known?.type);
        if (!putAt(group, known?.ref ?? target.slice(dot + 1), value))
          return { ok: false, detail: `\`${target}\` lies inside of something that is no object; leave one of the two columns out.` };
      } else if (target !== 'time') message[target] = typeof cell === 'string' ? cell.trim() : cell;
      else {
        at = backfillTime(cell, timeZone);
        if (at === undefined)
          return {
            ok: false,
            detail: `“${textOf(cell).slice(0, 60)}” is no time; write 2026-03-01T09:30:00Z, 2026-03-01 09:30:00, or seconds since 1970.`,
          };
      }
    }
    if (at === undefined) return { ok: false, detail: 'The row has no time.' };
    if (message['name'] === undefined && (message['kind'] ?? 'event') === 'event')
      return { ok: false, detail: 'The row has no event name.' };
    message['time'] = new Date(at).toISOString();
    for (const [name, group] of Object.entries(parts)) if (Object.keys(group).length > 0) message[name] = group;
    message['id'] =
      message['id'] === undefined ? `row-${bytesToHex(sha256(utf8ToBytes(JSON.stringify(message)))).slice(0, 32)}` : textOf(message['id']);
    return { ok: true, text: JSON.stringify(message), at };
  };
};

/** The columns of a JSON object: its fields, those of `ids`, `properties` and `user_properties` one by one. */
export const flatRow = (value: { readonly [name: string]: unknown }): { readonly [path: string]: unknown } => {
  const out: Record<string, unknown> = {};
  for (const [k, v] of Object.entries(value))
    if (/^(ids|properties|user_properties)$/.test(k) && typeof v === 'object' && v !== null && !Array.isArray(v))
      for (const [inner, x] of Object.entries(v)) out[`${k}.${inner}`] = x;
    else out[k] = v;
  return out;
};
