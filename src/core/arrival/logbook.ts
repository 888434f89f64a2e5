/** All that is known of one person, in order of time. */
import type { Persons } from '../identity/persons';
import type { IdentifierNode, MessageTable, Scalar } from '../table/message-table';
import { SESSION_GAP_MS } from '../table/sessions';

export interface LogbookEntry {
  readonly seq: number;
  /** UTC epoch ms. */
  readonly at: number;
  /** Empty for an identify call. */
  readonly name: string;
  readonly sourceId: string;
  readonly release: string;
  readonly page: string;
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
  /** By time; the newest `most` of them. */
  readonly entries: readonly LogbookEntry[];
}

const MOST = 2000;

/** The person that an identifier belongs to; −1 for none. */
export const personOfIdentifier = (table: MessageTable, persons: Persons, kind: string, value: string): number => {
  const node = table.findNode(kind, value);
  return node < 0 ? -1 : persons.personOfNode[node]!;
};

/** Identifiers that contain a text, those that begin with it first. Shape: at most `most`. */
export const identifiersLike = (table: MessageTable, text: string, most = 20): IdentifierNode[] => {
  const needle = text.trim().toLowerCase();
  if (needle === '') return [];
  const first: IdentifierNode[] = [];
  const later: IdentifierNode[] = [];
  for (const node of table.nodes) {
    const at = node.value.toLowerCase().indexOf(needle);
    if (at === 0) first.push(node);
    else if (at > 0 && later.length < most) later.push(node);
    if (first.length >= most) break;
  }
  return [...first, ...later].slice(0, most);
};

/** The logbook of a person; `undefined` without a message. Sessions are per source: 30 minutes without a message end one.
 *  A user property has the value that the latest message up to then set; none before the first.
 */
export const logbookOf = (table: MessageTable, persons: Persons, person: number, most = MOST): Logbook | undefined => {
  const rows: number[] = [];
  const of = persons.personOfMessage;
  for (let row = 0; row < of.length; row++) if (of[row] === person) rows.push(row);
  if (rows.length === 0) return undefined;
  rows.sort((a, b) => table.time.get(a) - table.time.get(b) || a - b);
  const lastOn = new Map<number, number>();
  const bySource = new Map<number, number>();
  const current = new Map<string, Scalar>();
  let sessions = 0;
  let inUseMs = 0;
  const entries = rows.map((row): LogbookEntry => {
    const at = table.time.get(row);
    const source = table.source.get(row);
    const last = lastOn.get(source);
    const begins = last === undefined || at - last > SESSION_GAP_MS;
    if (begins) sessions++;
    else inUseMs += at - last;
    lastOn.set(source, at);
    bySource.set(source, (bySource.get(source) ?? 0) + 1);
    const set = [...table.userProperties].flatMap(([name, p]) => {
      const i = p.column.get(row);
      if (i < 0) return [];
      const value = p.values.values[i]!;
      const before = current.get(name);
      current.set(name, value);
      return [{ name, value, before }];
    });
    return {
      seq: table.seq.get(row),
      at,
      name: table.names.values[table.name.get(row)] ?? '',
      sourceId: table.sources.values[source]!,
      release: table.releases.values[table.release.get(row)]!,
      page: table.pages.values[table.page.get(row)] ?? '',
      begins,
      findings: (table.verdicts.get(row) ?? []).map((v) => v.code),
      set,
    };
  });
  const own = new Set<number>();
  for (let node = 0; node < persons.personOfNode.length; node++) if (persons.personOfNode[node] === person) own.add(node);
  const messagesOf = new Map<number, number>();
  for (const row of rows)
    for (const column of table.ids.values()) {
      const node = column.get(row);
      if (own.has(node)) messagesOf.set(node, (messagesOf.get(node) ?? 0) + 1);
    }
  return {
    identifiers: [...own].map((node) => ({ ...table.nodes[node]!, messages: messagesOf.get(node) ?? 0 })),
    links: persons.links
      .filter((l) => own.has(l.a) && own.has(l.b))
      .map((l) => ({ a: table.nodes[l.a]!, b: table.nodes[l.b]!, firstAt: l.firstAt })),
    firstAt: entries[0]!.at,
    lastAt: entries.at(-1)!.at,
    messages: entries.length,
    sessions,
    inUseMs,
    bySource: [...bySource].map(([s, messages]) => ({ sourceId: table.sources.values[s]!, messages })),
    userProperties: [...current].map(([name, value]) => ({ name, value })),
    entries: entries.slice(-most),
  };
};
