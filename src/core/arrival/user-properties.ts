/** User properties as they came, beside those that are planned and registered: their state, their values by source, their buckets. */
import type { Attributed } from '../table/following-persons';
import { foldName, likeness } from '../naming/likeness';
import { entries, type Id, type Plan, type UserProperty } from '../plan/plan';
import { swappedUserProperty } from '../plan/swapped';
import type { Weighted } from '../questions/buckets';
import { shownValue, type MessageTable, type Scalar } from '../table/message-table';
import { PathMap, refOfProperty, refText, sameRef, type PropertyRef } from '../plan/property-path';

export const USER_PROPERTY_STATES = ['usable', 'sent, not usable', 'missing or misspelt', 'waiting', 'for tests', 'retired'] as const;
export type UserPropertyState = (typeof USER_PROPERTY_STATES)[number];

export interface UserPropertyReport {
  readonly name: string;
  readonly id: Id | undefined;
  readonly planned: UserProperty | undefined;
  readonly state: UserPropertyState;
  /** The received (or, for what is not planned, the planned) name that is nearest to it. */
  readonly nearest: string | undefined;
  /** Planned property of which name and value were swapped in the call. */
  readonly swappedFor: string | undefined;
  readonly messages: number;
  /** Persons who have a value now. */
  readonly persons: number;
  readonly distinct: number;
  readonly bySource: readonly { readonly sourceId: Id; readonly messages: number; readonly expected: boolean }[];
  /** The most frequent values with the messages of each source that set them, and the persons who have them now. */
  readonly values: readonly {
    readonly value: Scalar;
    readonly messages: number;
    readonly persons: number;
    readonly bySource: readonly { readonly sourceId: Id; readonly messages: number }[];
    readonly planned: boolean;
  }[];
  /** Numbers that persons have now; empty where a value is none. */
  readonly numbers: readonly Weighted[];
}

const TOP = 12;

/** Whether two names are meant to be the same: but for case, order of words, or a letter or two. */
const alike = (a: string, b: string): boolean => foldName(a) === foldName(b) || likeness(a, b) !== undefined;

const stateOf = (u: UserProperty | undefined, received: boolean, nearest: string | undefined): UserPropertyState => {
  if (!u) return 'sent, not usable';
  if (u.retired) return 'retired';
  if (u.temporary) return 'for tests';
  if (received) return u.registered ? 'usable' : 'sent, not usable';
  return u.registered && nearest !== undefined ? 'missing or misspelt' : 'waiting';
};

/** What one name was set to, by value and source; and what each person has now. */
const countsOf = ({ table, personOfMessage }: Attributed, ref: PropertyRef) => {
  const p = table.userProperties.get(ref);
  const byValue = new Map<number, { messages: number; persons: number; bySource: Map<number, number> }>();
  const now = new Map<number, { at: number; value: number }>();
  const bySource = new Map<number, number>();
  let messages = 0;
  if (p)
    for (let row = 0; row < table.length; row++) {
      const value = p.column.get(row);
      if (value < 0) continue;
      messages++;
      const source = table.source.get(row);
      bySource.set(source, (bySource.get(source) ?? 0) + 1);
      let v = byValue.get(value);
      if (!v) byValue.set(value, (v = { messages: 0, persons: 0, bySource: new Map() }));
      v.messages++;
      v.bySource.set(source, (v.bySource.get(source) ?? 0) + 1);
      const person = personOfMessage[row]!;
      const at = table.time.get(row);
      if (person >= 0 && at >= (now.get(person)?.at ?? -Infinity)) now.set(person, { at, value });
    }
  for (const { value } of now.values()) byValue.get(value)!.persons++;
  return { messages, byValue, bySource, persons: now.size, valueOf: (i: number): Scalar => shownValue(p!.values.values[i]!) };
};

/** Every name that was received or is planned: what is received and not usable first, then what waits, then the rest by messages.
 *  Shape: a person's value now is the one that their latest message set. Retired names are listed while they are still sent.
 */
export const userPropertyReport = (plan: Plan, people: Attributed): UserPropertyReport[] => {
  const { table } = people;
  const planned = new PathMap(entries(plan, 'userProperty').map(([id, u]) => [refOfProperty(u), { id, u }] as const));
  const received = [...table.userProperties.keys()];
  const refs = [...received, ...[...planned].flatMap(([ref, { u }]) => (u.retired || table.userProperties.has(ref) ? [] : [ref]))];
  const reports = refs.map((ref): UserPropertyReport => {
    const name = refText(ref);
    const entry = planned.get(ref);
    const u = entry?.u;
    const c = countsOf(people, ref);
    const others = (u ? received.filter((r) => !planned.has(r)) : [...planned.keys()]).filter((o) => !sameRef(o, ref)).map(refText);
    const nearest = c.messages === 0 || !u ? others.find((o) => alike(o, name)) : undefined;
    const values = [...c.byValue].sort((a, b) => b[1].messages - a[1].messages);
    const first = values[0] && c.valueOf(values[0][0]);
    const meant = u || first === undefined || typeof ref !== 'string' ? undefined : swappedUserProperty(plan, name, first);
    const all = values.map(([i, v]) => ({ value: c.valueOf(i), weight: v.persons }));
    return {
      name,
      id: entry?.id,
      planned: u,
      state: stateOf(u, c.messages > 0, nearest),
      nearest,
      swappedFor: meant === undefined ? undefined : plan.userProperty[meant]!.name,
      messages: c.messages,
      persons: c.persons,
      distinct: c.byValue.size,
      bySource: [
        ...[...c.bySource].map(([s, n]) => ({ sourceId: table.sources.values[s]!, messages: n })),
        ...(u?.sources ?? []).filter((id) => !c.bySource.has(table.sources.find(id))).map((sourceId) => ({ sourceId, messages: 0 })),
      ]
        .map((s) => ({ ...s, expected: u?.sources.includes(s.sourceId) ?? false }))
        .sort((a, b) => b.messages - a.messages || (a.sourceId < b.sourceId ? -1 : 1)),
      values: values.slice(0, TOP).map(([i, v]) => ({
        value: c.valueOf(i),
        messages: v.messages,
        persons: v.persons,
        bySource: [...v.bySource].map(([s, n]) => ({ sourceId: table.sources.values[s]!, messages: n })),
        planned: u === undefined || u.allowed.length === 0 || u.allowed.includes(String(c.valueOf(i))),
      })),
      numbers: all.every((v) => typeof v.value === 'number')
        ? all.map((v) => ({ value: v.value as number, weight: v.weight })).filter((v) => v.weight > 0)
        : [],
    };
  });
  const rank = (r: UserPropertyReport): number =>
    r.state === 'sent, not usable' ? 0 : r.state === 'waiting' || r.state === 'missing or misspelt' ? 1 : 2;
  return reports.sort((a, b) => rank(a) - rank(b) || b.messages - a.messages || (a.name < b.name ? -1 : 1));
};

/** A user property at one message and now. */
export interface ThenAndNow {
  readonly name: string;
  /** As it was right after the message; `undefined` where it was not set yet. */
  readonly then: Scalar | undefined;
  readonly now: Scalar | undefined;
  readonly differs: boolean;
}

/** The user properties of the person of a message, as they were at it and as they are now; they are never applied backwards.
 *  Shape: by name; empty for a message of nobody. `undefined` for a message that is not there.
 */
export const userPropertiesAt = ({ table, personOfMessage }: Attributed, seq: number): ThenAndNow[] | undefined => {
  const row = rowOfSeq(table, seq);
  if (row < 0) return undefined;
  const person = personOfMessage[row] ?? -1;
  if (person < 0) return [];
  const at = table.time.get(row);
  const own: number[] = [];
  for (let r = 0; r < personOfMessage.length; r++) if (personOfMessage[r] === person) own.push(r);
  own.sort((a, b) => table.time.get(a) - table.time.get(b) || a - b);
  const out: ThenAndNow[] = [];
  for (const [ref, p] of table.userProperties) {
    let then: Scalar | undefined;
    let now: Scalar | undefined;
    for (const r of own) {
      const v = p.column.get(r);
      if (v < 0) continue;
      now = shownValue(p.values.values[v]!);
      const time = table.time.get(r);
      if (time < at || (time === at && r <= row)) then = now;
    }
    if (now !== undefined) out.push({ name: refText(ref), then, now, differs: then !== now });
  }
  return out.sort((a, b) => (a.name < b.name ? -1 : 1));
};

/** Row of a message by its number; −1 where it is not there. Rows are in the order of their numbers. */
const rowOfSeq = (table: MessageTable, seq: number): number => {
  let lo = 0;
  let hi = table.length - 1;
  while (lo <= hi) {
    const mid = (lo + hi) >> 1;
    const s = table.seq.get(mid);
    if (s === seq) return mid;
    if (s < seq) lo = mid + 1;
    else hi = mid - 1;
  }
  return -1;
};
