/** How well persons are known: orphans, inflation, sign-in coverage, identifiers that are dropped, late or too common. */
import { entries, settingsOf, type Plan } from '../plan/plan';
import { periodsBetween } from '../questions/calendar';
import type { Period } from '../questions/formula';
import type { MessageTable } from '../table/message-table';
import { countingBases, type BasisFigure, type CountingBasis } from './counting-basis';
import { personsOfMessages, resolvePersons, type Persons } from './persons';

export const ORPHAN_REASONS = [
  'only a server sends it',
  'only shared devices beside it',
  'its link was refused',
  'sent without any other ID',
] as const;
export type OrphanReason = (typeof ORPHAN_REASONS)[number];

export interface Example {
  readonly kind: string;
  readonly value: string;
  readonly messages: number;
}

export interface ActivePeriod {
  readonly period: Period;
  /** Begin of the last whole period, UTC epoch ms. */
  readonly at: number;
  readonly persons: { readonly [B in CountingBasis]: number };
}

export interface IdentityHealth {
  readonly bases: readonly BasisFigure[];
  /** Persons on `user ID first` ÷ fully linked − 1; `undefined` without persons. */
  readonly inflation: number | undefined;
  readonly active: readonly ActivePeriod[];
  readonly persons: number;
  readonly withUserId: number;
  readonly singleMessage: number;
  readonly serverOnly: number;
  readonly userIds: number;
  readonly orphans: readonly { readonly reason: OrphanReason; readonly count: number; readonly examples: readonly Example[] }[];
  /** Of user IDs first seen in each of the last eight weeks, how many are orphans. */
  readonly trend: readonly { readonly at: number; readonly userIds: number; readonly orphans: number }[];
  /** Client messages in a stretch that is signed in, and those of them that lack the user ID, by source and release. */
  readonly signedIn: { readonly messages: number; readonly dropped: number };
  readonly dropped: readonly {
    readonly sourceId: string;
    readonly release: string;
    readonly dropped: number;
    readonly messages: number;
    /** Sequence numbers, newest first. */
    readonly samples: readonly number[];
  }[];
  /** Pages within a session whose first message lacks the user ID that a later one on it has. */
  readonly latePages: { readonly late: number; readonly pages: number };
  /** Identifiers that carry more than a hundredth of all messages that carry their kind. */
  readonly overCommon: readonly (Example & { readonly share: number })[];
  readonly shapes: readonly {
    readonly kind: string;
    readonly shape: string;
    readonly count: number;
    readonly example: string;
    readonly sources: readonly string[];
  }[];
  readonly shared: readonly (Example & { readonly users: number })[];
}

const EXAMPLES = 5;
const MOST_SHAPES = 6;
const WEEKS = 8;
const SESSION_GAP_MS = 30 * 60_000;
const OVER_COMMON_SHARE = 0.01;
const OVER_COMMON_LEAST = 100;
const MONTH_WINDOW_MS = 70 * 86_400_000;

/** The shape of an identifier: runs of digits, hexadecimal digits and letters told apart. */
export const shapeOf = (value: string): string =>
  value.length > 200
    ? 'very long'
    : value === ''
      ? 'empty'
      : value
          .replace(/(?=[0-9a-f]*[0-9])(?=[0-9a-f]*[a-f])[0-9a-f]{6,}/gi, '\u0001')
          .replace(/\d+/g, '\u0002')
          .replace(/\p{L}{2,}/gu, '\u0003')
          .replaceAll('\u0001', '‹hex›')
          .replaceAll('\u0002', '‹digits›')
          .replaceAll('\u0003', '‹letters›');

/** Works the figures out over all messages.
 *  Shape: lists hold a few examples each, the counts are whole. A stretch is signed in from a message of a client with a user ID until its
 *  sign-out, until another user ID, or until its device is quiet for 30 minutes. Units: shares 0..1, times UTC epoch ms by the messages.
 */
export const identityHealth = (plan: Plan, table: MessageTable, persons: Persons, now: number): IdentityHealth => {
  const settings = settingsOf(plan);
  const rules = settings.identity;
  const { personOfNode, personOfMessage } = persons;
  const isServer = table.sources.values.map((id) => plan.source[id]?.kind === 'server');
  const user = table.ids.get('user');
  const messagesOf = new Int32Array(table.nodes.length);
  const byServerOnly = new Uint8Array(table.nodes.length).fill(1);
  const besideOther = new Uint8Array(table.nodes.length);
  const shared = new Set(persons.shared);
  const others = [...table.ids].filter(([k]) => k !== 'user').map(([, c]) => c);
  for (const column of table.ids.values())
    for (let row = 0; row < table.length; row++) {
      const node = column.get(row);
      if (node < 0) continue;
      messagesOf[node]!++;
      if (!isServer[table.source.get(row)]) byServerOnly[node] = 0;
    }
  const besideShared = new Uint8Array(table.nodes.length);
  if (user)
    for (let row = 0; row < table.length; row++) {
      const u = user.get(row);
      if (u < 0) continue;
      for (const column of others) {
        const node = column.get(row);
        if (node < 0) continue;
        if (shared.has(node)) besideShared[u] = 1;
        else if (personOfNode[node]! >= 0) besideOther[u] = 1;
      }
    }
  const example = (node: number): Example => ({ ...table.nodes[node]!, messages: messagesOf[node]! });

  // Persons, by what they have.
  const members = new Int32Array(persons.count);
  const hasUser = new Uint8Array(persons.count);
  table.nodes.forEach((n, i) => {
    const p = personOfNode[i]!;
    if (p < 0) return;
    members[p]!++;
    if (n.kind === 'user') hasUser[p] = 1;
  });
  const perPerson = new Int32Array(persons.count);
  const clientOf = new Uint8Array(persons.count);
  for (let row = 0; row < table.length; row++) {
    const p = personOfMessage[row]!;
    if (p < 0) continue;
    perPerson[p]!++;
    if (!isServer[table.source.get(row)]) clientOf[p] = 1;
  }
  let [present, withUserId, singleMessage, serverOnly] = [0, 0, 0, 0];
  for (let p = 0; p < persons.count; p++) {
    if (perPerson[p] === 0) continue;
    present++;
    if (hasUser[p]) withUserId++;
    if (perPerson[p] === 1) singleMessage++;
    if (!clientOf[p]) serverOnly++;
  }

  // Orphans, with the reason.
  const firstSeen = new Float64Array(table.nodes.length).fill(Infinity);
  if (user)
    for (let row = 0; row < table.length; row++) {
      const u = user.get(row);
      if (u >= 0 && table.time.get(row) < firstSeen[u]!) firstSeen[u] = table.time.get(row);
    }
  const weeks = periodsBetween('week', now - (WEEKS - 1) * 7 * 86_400_000, now, settings.timeZone, settings.weekStartsOn);
  const trend = Array.from({ length: weeks.count }, (_, i) => ({ at: weeks.starts[i]!, userIds: 0, orphans: 0 }));
  const byReason = new Map<OrphanReason, number[]>(ORPHAN_REASONS.map((r) => [r, []]));
  let userIds = 0;
  table.nodes.forEach((n, i) => {
    const p = personOfNode[i]!;
    if (n.kind !== 'user' || p < 0) return;
    userIds++;
    const at = firstSeen[i]!;
    const week = at >= weeks.starts[0]! && at < weeks.starts[weeks.count]! ? trend[weeks.find(at)] : undefined;
    if (week) week.userIds++;
    if (members[p] !== 1) return;
    if (week) week.orphans++;
    const reason: OrphanReason = byServerOnly[i]
      ? 'only a server sends it'
      : besideOther[i]
        ? 'its link was refused'
        : besideShared[i]
          ? 'only shared devices beside it'
          : 'sent without any other ID';
    byReason.get(reason)!.push(i);
  });

  // Stretches that are signed in, device by device.
  const perRelease = new Map<string, { sourceId: string; release: string; dropped: number; messages: number; rows: number[] }>();
  let [inStretch, dropped, late, pages] = [0, 0, 0, 0];
  const signOuts = new Set(rules.signOutEvents.map((n) => table.names.find(n)).filter((n) => n >= 0));
  if (user)
    for (const [node, rows] of clientRows(table, isServer, shared)) {
      void node;
      let [signedIn, last] = [false, -Infinity];
      let page: { at: number; first: boolean; seen: boolean } | undefined;
      const closePage = (): void => {
        if (!page?.seen) return;
        pages++;
        if (!page.first) late++;
      };
      for (const row of rows) {
        const at = table.time.get(row);
        const has = user.get(row) >= 0;
        if (at - last > SESSION_GAP_MS) {
          signedIn = false;
          closePage();
          page = undefined;
        }
        last = at;
        const where = table.page.get(row);
        if (where >= 0 && where !== page?.at) {
          closePage();
          page = { at: where, first: has, seen: has };
        } else if (page && has) page.seen = true;
        if (has) signedIn = true;
        if (signedIn) {
          inStretch++;
          const [sourceId, release] = [table.sources.values[table.source.get(row)]!, table.releases.values[table.release.get(row)]!];
          const key = `${sourceId} ${release}`;
          let own = perRelease.get(key);
          if (!own) perRelease.set(key, (own = { sourceId, release, dropped: 0, messages: 0, rows: [] }));
          own.messages++;
          if (!has) {
            dropped++;
            own.dropped++;
            own.rows.push(row);
          }
        }
        if (signOuts.has(table.name.get(row))) signedIn = false;
      }
      closePage();
    }

  // Identifiers that are everywhere, and shapes.
  const perKind = new Map<string, number>();
  table.nodes.forEach((n, i) => perKind.set(n.kind, (perKind.get(n.kind) ?? 0) + messagesOf[i]!));
  const overCommon = table.nodes.flatMap((n, i) => {
    const share = messagesOf[i]! / perKind.get(n.kind)!;
    return messagesOf[i]! >= OVER_COMMON_LEAST && share > OVER_COMMON_SHARE ? [{ ...example(i), share }] : [];
  });
  return {
    bases: countingBases(table, rules, persons),
    inflation: inflationOf(countingBases(table, rules, persons)),
    active: activeOf(plan, table, persons, now),
    persons: present,
    withUserId,
    singleMessage,
    serverOnly,
    userIds,
    orphans: [...byReason]
      .filter(([, nodes]) => nodes.length > 0)
      .map(([reason, nodes]) => ({
        reason,
        count: nodes.length,
        examples: nodes
          .sort((a, b) => firstSeen[b]! - firstSeen[a]!)
          .slice(0, EXAMPLES)
          .map(example),
      })),
    trend,
    signedIn: { messages: inStretch, dropped },
    dropped: [...perRelease.values()]
      .filter((r) => r.dropped > 0)
      .sort((a, b) => b.dropped / b.messages - a.dropped / a.messages)
      .map(({ rows, ...r }) => ({
        ...r,
        samples: rows
          .slice(-EXAMPLES)
          .reverse()
          .map((row) => table.seq.get(row)),
      })),
    latePages: { late, pages },
    overCommon: overCommon.sort((a, b) => b.share - a.share).slice(0, EXAMPLES * 2),
    shapes: shapesOf(plan, table),
    shared: persons.shared
      .map((node) => ({ ...example(node), users: usersBeside(table, node) }))
      .sort((a, b) => b.messages - a.messages)
      .slice(0, EXAMPLES * 2),
  };
};

const inflationOf = (bases: readonly BasisFigure[]): number | undefined => {
  const of = (b: CountingBasis): number => bases.find((x) => x.basis === b)!.persons;
  return of('fully linked') === 0 ? undefined : of('user ID first') / of('fully linked') - 1;
};

/** The rows of each client device or anonymous ID, in order of time: by the first kind that is no user ID. */
function* clientRows(table: MessageTable, isServer: readonly boolean[], shared: ReadonlySet<number>): Iterable<[number, number[]]> {
  const kinds = [...table.ids.keys()].filter((k) => k !== 'user').sort();
  const rows = new Map<number, number[]>();
  for (let row = 0; row < table.length; row++) {
    if (isServer[table.source.get(row)] || table.name.get(row) < 0) continue;
    for (const kind of kinds) {
      const node = table.ids.get(kind)!.get(row);
      if (node < 0 || shared.has(node)) continue;
      const list = rows.get(node);
      if (list) list.push(row);
      else rows.set(node, [row]);
      break;
    }
  }
  for (const [node, list] of rows) yield [node, list.sort((a, b) => table.time.get(a) - table.time.get(b))];
}

const usersBeside = (table: MessageTable, node: number): number => {
  const user = table.ids.get('user');
  const column = table.ids.get(table.nodes[node]!.kind);
  const seen = new Set<number>();
  if (user && column)
    for (let row = 0; row < table.length; row++) if (column.get(row) === node && user.get(row) >= 0) seen.add(user.get(row));
  return seen.size;
};

const shapesOf = (plan: Plan, table: MessageTable): IdentityHealth['shapes'] => {
  const sourcesOf = new Map<number, Set<number>>();
  for (const column of table.ids.values())
    for (let row = 0; row < table.length; row++) {
      const node = column.get(row);
      if (node < 0) continue;
      const s = table.source.get(row);
      const known = sourcesOf.get(node);
      if (!known) sourcesOf.set(node, new Set([s]));
      else known.add(s);
    }
  const shapes = new Map<string, { kind: string; shape: string; count: number; example: string; sources: Set<number> }>();
  table.nodes.forEach((n, i) => {
    const shape = shapeOf(n.value);
    const key = `${n.kind} ${shape}`;
    let own = shapes.get(key);
    if (!own) shapes.set(key, (own = { kind: n.kind, shape, count: 0, example: n.value.slice(0, 60), sources: new Set() }));
    own.count++;
    for (const s of sourcesOf.get(i) ?? []) own.sources.add(s);
  });
  const kinds = [...new Set([...entries(plan, 'identifierKind').map(([, k]) => k.name), ...table.ids.keys()])];
  return kinds.flatMap((kind) =>
    [...shapes.values()]
      .filter((s) => s.kind === kind)
      .sort((a, b) => b.count - a.count)
      .slice(0, MOST_SHAPES)
      .map((s) => ({ ...s, sources: [...s.sources].map((x) => table.sources.values[x]!) })),
  );
};

/** Persons of the last whole day, week and month under each basis, on the same messages. */
const activeOf = (plan: Plan, table: MessageTable, persons: Persons, now: number): ActivePeriod[] => {
  const { timeZone, weekStartsOn, identity } = settingsOf(plan);
  const apart = resolvePersons(table, { ...identity, linking: false });
  const devices = [...table.ids.keys()].filter((k) => k !== 'user').sort();
  const of: { readonly [B in CountingBasis]: Int32Array } = {
    'device only': personsOfMessages(table, apart.personOfNode, devices),
    'user ID first': apart.personOfMessage,
    'fully linked': persons.personOfMessage,
  };
  return (['day', 'week', 'month'] as const).map((period) => {
    const periods = periodsBetween(period, now - MONTH_WINDOW_MS, now, timeZone, weekStartsOn);
    const from = periods.starts[periods.count - 2]!;
    const to = periods.starts[periods.count - 1]!;
    const count = (by: Int32Array): number => {
      const seen = new Set<number>();
      for (let row = 0; row < table.length; row++) {
        const at = table.time.get(row);
        if (at >= from && at < to && by[row]! >= 0) seen.add(by[row]!);
      }
      return seen.size;
    };
    return {
      period,
      at: from,
      persons: {
        'device only': count(of['device only']),
        'user ID first': count(of['user ID first']),
        'fully linked': count(of['fully linked']),
      },
    };
  });
};
