/** All that is known of one person, in order of time. */
import type { Persons } from '../identity/persons';
import { sessionGapMs, settingsOf, type Plan } from '../plan/plan';
import { eventNamed } from '../plan/plan-index';
import { minorDigits } from '../plan/currency';
import { convert, UNITS } from '../plan/unit';
import { shownValue, type MessageTable, type ScalarColumn, type Scalar } from '../table/message-table';
import type { IdentifierNode } from '../table/nodes';
import { type MessageKind } from '../table/message-kinds';
import { refOfProperty, refText } from '../plan/property-path';

export interface LogbookEntry {
  readonly seq: number;
  /** UTC epoch ms. */
  readonly at: number;
  readonly kind: MessageKind;
  /** Empty for what is no event. */
  readonly name: string;
  readonly sourceId: string;
  readonly release: string;
  readonly page: string;
  /** Places of its identifiers in the logbook's list. */
  readonly ids: readonly number[];
  /** Begins a session on its source. */
  readonly begins: boolean;
  readonly findings: readonly string[];
  /** User properties that it set, with what they were before. */
  readonly set: readonly { readonly name: string; readonly value: Scalar; readonly before: Scalar | undefined }[];
}

export interface Logbook {
  readonly identifiers: readonly (IdentifierNode & { readonly messages: number })[];
  /** What joined two of them, with the moment of the first message that carried both. */
  readonly links: readonly { readonly a: IdentifierNode; readonly b: IdentifierNode; readonly firstAt: number }[];
  readonly firstAt: number;
  readonly lastAt: number;
  readonly messages: number;
  readonly sessions: number;
  /** From the first to the last message of each session, added up. */
  readonly inUseMs: number;
  readonly bySource: readonly { readonly sourceId: string; readonly messages: number }[];
  readonly userProperties: readonly { readonly name: string; readonly value: Scalar }[];
  readonly money: readonly Money[];
  /** By time; the newest `most` of them. */
  readonly entries: readonly LogbookEntry[];
}

/** A property in units of money, added up over the completed events that carry it as their own. */
export interface Money {
  readonly eventName: string;
  readonly property: string;
  /** ISO 4217. */
  readonly currency: string;
  /** In major units of the currency. */
  readonly sum: number;
  readonly messages: number;
}

const MAX = 2000;

/** The person that an identifier belongs to; −1 for none. */
export const personOfIdentifier = (persons: Persons, kind: string, value: string): number => {
  const node = persons.table.nodes.find(kind, value);
  return node < 0 ? -1 : persons.personOfNode[node]!;
};

/** Identifiers that contain a text, those that begin with it first. Shape: at most `most`. */
export const identifiersLike = (table: MessageTable, text: string, max = 20): IdentifierNode[] => {
  const needle = text.trim().toLowerCase();
  if (needle === '') return [];
  const first: IdentifierNode[] = [];
  const later: IdentifierNode[] = [];
  for (const node of table.nodes) {
    const at = node.value.toLowerCase().indexOf(needle);
    if (at === 0) first.push(node);
    else if (at > 0 && later.length < max) later.push(node);
    if (first.length >= max) break;
  }
  return [...first, ...later].slice(0, max);
};

/** What a person's completed events say of money. What an event carries through a shared set describes its object, not what was paid.
 *  Units: major units of the currency, whose digits are by ISO 4217; the currency is that beside it on the message, else the workspace's.
 */
const moneyOf = (plan: Plan, table: MessageTable, rows: readonly number[]): Money[] => {
  const sums = new Map<string, { -readonly [K in keyof Money]: Money[K] }>();
  for (const row of rows) {
    const eventName = table.names.values[table.name.get(row)] ?? '';
    const event = eventName === '' ? undefined : eventNamed(plan, eventName)?.[1];
    if (event?.triggerKind !== 'completed') continue;
    for (const { propertyId } of event.properties) {
      const p = plan.property[propertyId];
      const value = p && UNITS.get(p.unit)?.dimension === 'money' ? table.valueOf(row, refOfProperty(p)) : undefined;
      if (typeof value !== 'number') continue;
      const beside = event.properties.flatMap((x) =>
        plan.property[x.propertyId]?.format === 'currency' ? [refOfProperty(plan.property[x.propertyId]!)] : [],
      );
      const currency = beside.map((ref) => table.valueOf(row, ref)).find((v) => typeof v === 'string') ?? settingsOf(plan).currency;
      const key = JSON.stringify([eventName, refOfProperty(p!), currency]);
      const known = sums.get(key) ?? { eventName, property: refText(refOfProperty(p!)), currency, sum: 0, messages: 0 };
      known.sum += convert(value, p!.unit, 'major units', minorDigits(currency)) ?? 0;
      known.messages++;
      sums.set(key, known);
    }
  }
  return [...sums.values()];
};

/** The logbook of a person; `undefined` without a message. Sessions are per source: the workspace's minutes without a message end one.
 *  A user property has the value that the latest message up to then set; none before the first.
 */
export const logbookOf = (plan: Plan, persons: Persons, person: number, max = MAX): Logbook | undefined => {
  const { table } = persons;
  const rows: number[] = [];
  const of = persons.personOfMessage;
  for (let row = 0; row < of.length; row++) if (of[row] === person) rows.push(row);
  if (rows.length === 0) return undefined;
  rows.sort((a, b) => table.time.get(a) - table.time.get(b) || a - b);
  const own: number[] = [];
  for (let node = 0; node < persons.personOfNode.length; node++) if (persons.personOfNode[node] === person) own.push(node);
  const placeOf = new Map(own.map((node, i) => [node, i]));
  const lastOn = new Map<number, number>();
  const bySource = new Map<number, number>();
  const current = new Map<ScalarColumn, { readonly name: string; readonly value: Scalar }>();
  const gapMs = sessionGapMs(plan);
  let sessions = 0;
  let inUseMs = 0;
  const entries = rows.map((row): LogbookEntry => {
    const at = table.time.get(row);
    const source = table.source.get(row);
    const last = lastOn.get(source);
    const begins = last === undefined || at - last > gapMs;
    if (begins) sessions++;
    else inUseMs += at - last;
    lastOn.set(source, at);
    bySource.set(source, (bySource.get(source) ?? 0) + 1);
    const set = [...table.userProperties].flatMap(([ref, p]) => {
      const i = p.column.get(row);
      if (i < 0) return [];
      const value = shownValue(p.values.values[i]!);
      const name = refText(ref);
      const before = current.get(p)?.value;
      current.set(p, { name, value });
      return [{ name, value, before }];
    });
    return {
      seq: table.seq.get(row),
      at,
      kind: table.kindOf(row),
      name: table.names.values[table.name.get(row)] ?? '',
      sourceId: table.sources.values[source]!,
      release: table.releases.values[table.release.get(row)]!,
      page: table.pages.values[table.page.get(row)] ?? '',
      ids: [...table.ids.values()].flatMap((column) => placeOf.get(column.get(row)) ?? []),
      begins,
      findings: (table.verdictsOf(row) ?? []).map((v) => v.code),
      set,
    };
  });
  const messagesOf = new Map<number, number>();
  for (const row of rows)
    for (const column of table.ids.values()) {
      const node = column.get(row);
      if (placeOf.has(node)) messagesOf.set(node, (messagesOf.get(node) ?? 0) + 1);
    }
  return {
    identifiers: own.map((node) => ({ ...table.nodes.get(node), messages: messagesOf.get(node) ?? 0 })),
    links: persons.links
      .filter((l) => placeOf.has(l.a) && placeOf.has(l.b))
      .map((l) => ({ a: table.nodes.get(l.a), b: table.nodes.get(l.b), firstAt: l.firstAt })),
    firstAt: entries[0]!.at,
    lastAt: entries.at(-1)!.at,
    messages: entries.length,
    sessions,
    inUseMs,
    bySource: [...bySource].map(([s, messages]) => ({ sourceId: table.sources.values[s]!, messages })),
    userProperties: [...current.values()],
    money: moneyOf(plan, table, rows),
    entries: entries.slice(-max),
  };
};
