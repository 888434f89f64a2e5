/** Why user IDs and anonymous trails never meet: by what people did, by release, by the shape of the ID, or because only a server knows them. */
import { entries, propertiesOf, settingsOf, type Plan } from '../plan/plan';
import { deviationsApart } from '../stats/two-shares';
import { wilson } from '../stats/wilson';
import { GrowingBits } from '../table/bitset';
import { rowsBefore } from '../table/column';
import { isScalar } from '../table/message-table';
import { membersOf } from './members';
import type { Persons } from './persons';
import { shapeOfNode } from './shapes';
import { refOfProperty, type PropertyRef } from '../plan/property-path';

export interface OrphanCause {
  readonly what: 'value' | 'release' | 'shape' | 'server only';
  /** The event that is never followed by a link; empty where it is not one. */
  readonly eventName: string;
  readonly property: PropertyRef;
  readonly value: string;
  /** People, or user IDs, that stay apart, of how many. */
  readonly people: number;
  readonly of: number;
  /** Share of the others who become known, 0..1. */
  readonly others: number;
}

export interface FoundCause {
  readonly cause: OrphanCause;
  readonly sourceId: string;
  readonly rows: readonly number[];
  /** Messages that the rows are a part of. */
  readonly of: number;
}

/** More values than this are free text. */
const MAX_VALUES = 40;
/** What leads to being known does so at once. */
const SOON_MS = 3_600_000;
/** Of those with an ID of a form of its own at most so many are linked all the same. */
const KNOWN_AT_MOST = 0.1;
/** Of the others at least so many become known; of those with the value surely less than so much of that. */
const OTHERS_AT_LEAST = 0.2;
const SURELY_LESS = 0.8;
/** Somebody who becomes known does so after the event in at least so many of a hundred cases: it leads to being known. */
const LEADS = 0.6;
/** Of those who should have become known so many at least must have left a user ID that no client sent; the others come back and sign in. */
const ORPHANED = 0.1;
/** A smaller difference may be one of people. It is told where chance cannot make it, and most of those who lack are there as orphans. */
const SLIGHTLY_LESS = 0.95;
const SLIGHT_DEVIATIONS = 4;
const SLIGHT_ORPHANED = 0.5;

/** Two sources put together, where 0 means none and −1 for several. */
const together = (a: number, b: number): number => (a === 0 || a === b ? b : b === 0 ? a : -1);

interface Side {
  people: Set<number>;
  known: number;
  rows: number[];
}

/** Causes of orphans.
 *  Shape: steps, and at the end the causes, what tells most first. Causes by value or release are looked for on events of clients that lead to being known, and only where user
 *  IDs that no client ever sent are there too: people who did not finish are no orphans.
 *  Method: shares of people who ever get a user ID, with Wilson intervals. Source: own definition.
 */
export function* orphanCauses(plan: Plan, persons: Persons, min: number): Generator<undefined, FoundCause[]> {
  const { table, rules, personOfNode, personOfMessage } = persons;
  const rows = personOfMessage.length;
  const user = table.ids.get(table.userKind)?.rawFor(rows);
  if (!user || !rules.linking || rules.links.length === 0) return [];
  const isServer = table.sources.values.map((id) => plan.source[id]?.kind === 'server');
  const { members } = membersOf(persons);
  const source = table.source.rawFor(rows);
  const time = table.time.raw;

  // User IDs: whether a client ever sent them, and with which messages they came.
  const byClient = new Uint8Array(table.nodes.length);
  /** Person → time of the first message on a client that carries a user ID. */
  const knownAt = new Float64Array(persons.count).fill(Infinity);
  const carried = new Int32Array(rows).fill(-1);
  for (let row = 0; row < rows; row++) {
    const u = user[row]!;
    if (u < 0) continue;
    const onClient = !isServer[source[row]!];
    const p = personOfMessage[row]!;
    if (personOfNode[u]! < 0) {
      // A placeholder in place of the user ID has a finding of its own: these people are left out here.
      if (p >= 0 && onClient) knownAt[p] = -Infinity;
      continue;
    }
    if (onClient) {
      byClient[u] = 1;
      if (p >= 0 && time[row]! < knownAt[p]!) knownAt[p] = time[row]!;
    }
    carried[row] = u;
  }
  yield;
  const userIds = table.nodes.ofKind(table.userKind).filter((u) => personOfNode[u]! >= 0);
  const orphans = [...userIds].filter((u) => byClient[u] === 0 && members[personOfNode[u]!] === 1);
  if (orphans.length < min) return [];
  const out: FoundCause[] = [];
  let left = new Set(orphans);

  // Only of orphans all messages are wanted.
  const isOrphan = new Uint8Array(table.nodes.length);
  for (const u of orphans) isOrphan[u] = 1;
  /** User ID → the source that it came from, + 1; −1 where it came from several. */
  const sourceOf = new Int32Array(table.nodes.length);
  const usersOfSource = table.sources.values.map(() => new GrowingBits());
  const rowsOf = new Map<number, number[]>(orphans.map((u) => [u, []]));
  for (let row = 0; row < rows; row++) {
    const u = carried[row]!;
    if (u < 0) continue;
    const s = source[row]!;
    sourceOf[u] = together(sourceOf[u]!, s + 1);
    usersOfSource[s]!.add(u);
    if (isOrphan[u] === 1) rowsOf.get(u)!.push(row);
  }

  yield;

  // A source whose IDs have a form of their own, and meet nothing.
  const shapes = new Map<string, { all: number[]; orphaned: number[]; source: number }>();
  for (const u of userIds) {
    const shape = shapeOfNode(table, u);
    let own = shapes.get(shape);
    if (!own) shapes.set(shape, (own = { all: [], orphaned: [], source: 0 }));
    own.all.push(u);
    if (isOrphan[u] === 1) own.orphaned.push(u);
    own.source = together(own.source, sourceOf[u]!);
  }
  if (shapes.size > 1)
    for (const [shape, s] of shapes) {
      if (s.source <= 0) continue;
      if (s.orphaned.length < min || s.orphaned.length < s.all.length * (1 - KNOWN_AT_MOST)) continue;
      if (s.all.length > userIds.length / 2) continue;
      const rows = s.orphaned.flatMap((u) => rowsOf.get(u)!);
      out.push({
        cause: { what: 'shape', eventName: '', property: '', value: shape, people: s.orphaned.length, of: s.all.length, others: 0 },
        sourceId: table.sources.values[s.source - 1]!,
        rows,
        of: rows.length,
      });
      const explained = new Set(s.orphaned);
      left = new Set([...left].filter((u) => !explained.has(u)));
    }
  if (left.size < min) return out;
  yield;

  // What people did before they should have become known.
  const signOut = new Set(settingsOf(plan).identity.signOutEvents);
  /** Person → when they did the event first; of that event alone which `of` says. */
  const firstAt = new Float64Array(persons.count);
  const of = new Int32Array(persons.count);
  let turn = 0;
  for (const [, event] of entries(plan, 'event')) {
    if (signOut.has(event.name)) continue;
    const rows = rowsBefore(table.rowsOf(event.name), personOfMessage.length).filter(
      (row) => !isServer[source[row]!] && personOfMessage[row]! >= 0,
    );
    if (rows.length < 2 * min) continue;
    yield;
    turn++;
    const people: number[] = [];
    for (const row of rows) {
      const p = personOfMessage[row]!;
      if (of[p] !== turn) {
        of[p] = turn;
        people.push(p);
        firstAt[p] = time[row]!;
      } else if (time[row]! < firstAt[p]!) firstAt[p] = time[row]!;
    }
    const isKnownSoon = (p: number): boolean => knownAt[p]! - firstAt[p]! <= SOON_MS;
    let [known, after] = [0, 0];
    for (const p of people) {
      if (knownAt[p] === -Infinity) continue;
      // Whoever was known before is none of those who should become it.
      if (knownAt[p]! < firstAt[p]!) known++;
      else if (isKnownSoon(p)) {
        known++;
        after++;
      }
    }
    if (after < min || after < known * LEADS) continue;
    const contrast = (what: 'value' | 'release', property: PropertyRef, valueOf: (row: number) => string | undefined): void => {
      const sides = new Map<string, Map<number, Side>>();
      const all = new Map<number, string>();
      for (const row of rows) {
        const p = personOfMessage[row]!;
        const value = valueOf(row);
        if (value === undefined || knownAt[p]! < firstAt[p]!) continue;
        // Whoever did it in several ways is nobody's.
        const before = all.get(p);
        if (before !== undefined && before !== value) continue;
        all.set(p, value);
        let bySource = sides.get(value);
        if (!bySource) sides.set(value, (bySource = new Map<number, Side>()));
        const source = table.source.get(row);
        let side = bySource.get(source);
        if (!side) bySource.set(source, (side = { people: new Set(), known: 0, rows: [] }));
        if (!side.people.has(p)) {
          side.people.add(p);
          if (isKnownSoon(p)) side.known++;
        }
        side.rows.push(row);
      }
      if (sides.size < 2 || sides.size > MAX_VALUES) return;
      for (const [value, bySource] of sides) {
        const own = [...bySource.values()];
        const people = own.reduce((n, s) => n + s.people.size, 0);
        const becameKnown = own.reduce((n, s) => n + s.known, 0);
        const rest = [...sides].filter(([v]) => v !== value).flatMap(([, m]) => [...m.values()]);
        const others = rest.reduce((n, s) => n + s.people.size, 0);
        const othersKnown = rest.reduce((n, s) => n + s.known, 0);
        if (people - becameKnown < min || others < min) continue;
        const [mine, theirs] = [wilson(becameKnown, people)!, wilson(othersKnown, others)!];
        if (theirs.low < OTHERS_AT_LEAST) continue;
        const isPlain = mine.high < theirs.low * SURELY_LESS;
        const isSlight =
          becameKnown / people < (othersKnown / others) * SLIGHTLY_LESS &&
          deviationsApart(othersKnown, others, becameKnown, people) > SLIGHT_DEVIATIONS;
        if (!isPlain && !isSlight) continue;
        // As many user IDs must be without a client as these people would have become.
        if (left.size < (othersKnown / others - becameKnown / people) * people * (isPlain ? ORPHANED : SLIGHT_ORPHANED)) continue;
        for (const [source, side] of bySource) {
          const unknown = side.rows.filter((row) => !isKnownSoon(personOfMessage[row]!));
          if (side.people.size - side.known < min) continue;
          out.push({
            cause: {
              what,
              eventName: event.name,
              property,
              value,
              people: side.people.size - side.known,
              of: side.people.size,
              others: othersKnown / others,
            },
            sourceId: table.sources.values[source]!,
            rows: unknown,
            of: side.rows.length,
          });
        }
      }
    };
    const found = out.length;
    for (const { property } of propertiesOf(plan, event)) {
      const p = table.properties.get(refOfProperty(property));
      if (!p || property.type !== 'string') continue;
      yield;
      contrast('value', refOfProperty(property), (row) => {
        const v = p.values.values[p.column.get(row)];
        return isScalar(v) ? String(v) : undefined;
      });
    }
    yield;
    // What a value tells needs no release beside it.
    if (out.length === found) contrast('release', '', (row) => table.releases.values[table.release.get(row)] || undefined);
  }
  const explained = out.filter((o) => o.cause.what !== 'shape').reduce((n, o) => n + o.cause.people * o.cause.others, 0);
  if (left.size - explained >= Math.max(min, left.size / 2)) {
    const bySource = new Map<number, Set<number>>();
    for (const u of left)
      for (const row of rowsOf.get(u)!)
        bySource.set(table.source.get(row), (bySource.get(table.source.get(row)) ?? new Set<number>()).add(u));
    for (const [source, ids] of bySource) {
      if (ids.size < min) continue;
      const rows = [...ids].flatMap((u) => rowsOf.get(u)!.filter((row) => table.source.get(row) === source));
      out.push({
        cause: {
          what: 'server only',
          eventName: '',
          property: '',
          value: '',
          people: ids.size,
          of: usersOfSource[source]!.size,
          others: 0,
        },
        sourceId: table.sources.values[source]!,
        rows,
        of: rows.length,
      });
    }
  }
  return out;
}
