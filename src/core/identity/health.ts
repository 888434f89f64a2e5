/** Identity health: orphans, inflation, sign-in coverage, identifiers that are dropped, late or too common. */
import { entries, settingsOf, type Plan } from '../plan/plan';
import { periodsBetween, type Periods } from '../questions/calendar';
import { activePeriods, type ActivePeriod } from './active-periods';
import { containment, type Containment } from './containment';
import { countingBases, personsByBasis, type BasisFigure, type CountingBasis } from './counting-basis';
import { membersOf } from './members';
import { firstSeenOfNodes, messagesOfNodes, pairsOfUsers, sentByOthers, usersBeside } from './node-facts';
import { personsWithin, sentByPersons } from './person-facts';
import type { Persons } from './persons';
import { shapesOf, type IdentifierShape } from './shapes';
import { signedInStretches, type SignedIn } from './signed-in';
import { variantsIn, type Variants } from './variants';

export const ORPHAN_REASONS = [
  'only a server sends it',
  'only shared devices beside it',
  'its link was refused',
  'no rule links what is beside it',
  'sent without any other ID',
] as const;
export type OrphanReason = (typeof ORPHAN_REASONS)[number];

export interface Example {
  readonly kind: string;
  readonly value: string;
  readonly messages: number;
}

export interface IdentityHealth extends Omit<SignedIn, 'dropped'> {
  readonly dropped: readonly Omit<SignedIn['dropped'][number], 'rows'>[];
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
  /** Identifiers that carry more than a hundredth of all messages that carry their kind. */
  readonly overCommon: readonly (Example & { readonly share: number })[];
  /** The person with most identifiers, where they are more than anybody has; by one of them. */
  readonly overgrown: (Example & { readonly identifiers: number }) | undefined;
  readonly containment: Containment;
  /** Persons of each of the last eight weeks, and how they are known. */
  readonly weeks: readonly KnownWeek[];
  readonly variants: Variants;
  readonly shapes: readonly IdentifierShape[];
  readonly shared: readonly (Example & { readonly users: number })[];
}

const EXAMPLES = 5;
const WEEKS = 8;
const OVER_COMMON_SHARE = 0.01;
const OVER_COMMON_LEAST = 100;
/** More identifiers than this nobody has. Common practice; no source. */
const OVERGROWN = 100;

export interface KnownWeek {
  /** Begin, UTC epoch ms. */
  readonly at: number;
  readonly persons: number;
  readonly withUserId: number;
  /** On `user ID first`: what they would be without linking. */
  readonly unlinked: number;
}

/** Works the figures out over all messages; `base` is the event that makes the base of containment, empty for any message.
 *  Shape: lists hold a few examples each, the counts are whole.  Units: shares 0..1, times UTC epoch ms by the messages.
 */
export const identityHealth = (plan: Plan, persons: Persons, now: number, base = ''): IdentityHealth => {
  const settings = settingsOf(plan);
  const { table, rules, personOfNode, count } = persons;
  const servers = entries(plan, 'source').flatMap(([id, source]) => (source.kind === 'server' ? [id] : []));
  const shared = new Set(persons.shared);
  const messagesOf = messagesOfNodes(table);
  const users = table.nodes.ofKind(table.userKind);
  const example = (node: number): Example => ({ ...table.nodes.get(node), messages: messagesOf[node]! });

  // Persons, by what they have.
  const { members, hasUser } = membersOf(persons);
  const { messages: perPerson, elsewhere: byClient } = sentByPersons(persons, servers);
  let largest = -1;
  let [present, withUserId, singleMessage, serverOnly] = [0, 0, 0, 0];
  for (let p = 0; p < count; p++) {
    if (largest < 0 || members[p]! > members[largest]!) largest = p;
    if (perPerson[p] === 0) continue;
    present++;
    if (hasUser[p] === 1) withUserId++;
    if (perPerson[p] === 1) singleMessage++;
    if (byClient[p] === 0) serverOnly++;
  }

  // Orphans, with the reason.
  const firstSeen = firstSeenOfNodes(table);
  const nodeByClient = sentByOthers(table, servers);
  const pairs = pairsOfUsers(table);
  const besideOther = new Uint8Array(table.nodes.length);
  const besideShared = new Uint8Array(table.nodes.length);
  for (let i = 0; i < pairs.length; i++) {
    const [u, node] = [pairs.a[i]!, pairs.b[i]!];
    if (shared.has(node)) besideShared[u] = 1;
    else if (personOfNode[node]! >= 0) besideOther[u] = 1;
  }
  const weeks = periodsBetween('week', now - (WEEKS - 1) * 7 * 86_400_000, now, settings.timeZone, settings.weekStartsOn);
  const trend = Array.from({ length: weeks.count }, (_, i) => ({ at: weeks.starts[i]!, userIds: 0, orphans: 0 }));
  const byReason = new Map<OrphanReason, number[]>(ORPHAN_REASONS.map((r) => [r, []]));
  const refusedAt = new Set(persons.refused.flatMap(({ link }) => [link.a, link.b]));
  let userIds = 0;
  for (const i of users) {
    const p = personOfNode[i] ?? -1;
    if (p < 0) continue;
    userIds++;
    const at = firstSeen[i]!;
    const week = at >= weeks.starts[0]! && at < weeks.starts[weeks.count]! ? trend[weeks.find(at)] : undefined;
    if (week) week.userIds++;
    if (members[p] !== 1) continue;
    if (week) week.orphans++;
    const reason: OrphanReason =
      nodeByClient[i] === 0
        ? 'only a server sends it'
        : besideOther[i]
          ? refusedAt.has(i)
            ? 'its link was refused'
            : 'no rule links what is beside it'
          : besideShared[i]
            ? 'only shared devices beside it'
            : 'sent without any other ID';
    byReason.get(reason)!.push(i);
  }

  const signedIn = signedInStretches(table, servers, persons.shared, settings.sessionGapMinutes * 60_000, rules);
  // Rows are for the checks; the screen has its examples.
  const dropped = signedIn.dropped.map(({ rows: _, ...d }) => d);

  // Identifiers that are everywhere, and shapes.
  const overCommon: (Example & { readonly share: number })[] = [];
  for (const kind of table.nodes.kindsKnown()) {
    let all = 0;
    const nodes = table.nodes.ofKind(kind);
    for (const node of nodes) all += messagesOf[node]!;
    for (const node of nodes) {
      const n = messagesOf[node]!;
      if (n >= OVER_COMMON_LEAST && n / all > OVER_COMMON_SHARE) overCommon.push({ ...example(node), share: n / all });
    }
  }
  const bases = countingBases(persons);
  return {
    bases,
    inflation: inflationOf(bases),
    active: activePeriods(plan, persons, now),
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
    ...signedIn,
    dropped,
    overCommon: overCommon.sort((a, b) => b.share - a.share).slice(0, EXAMPLES * 2),
    overgrown:
      largest >= 0 && members[largest]! > OVERGROWN
        ? { ...example(personOfNode.indexOf(largest)), identifiers: members[largest]! }
        : undefined,
    containment: containment(persons, base),
    weeks: knownWeeks(persons, hasUser, weeks),
    variants: variantsIn(table),
    shapes: shapesOf(plan, table),
    shared: persons.shared
      .map((node) => ({ ...example(node), users: usersBeside(table, node) }))
      .sort((a, b) => b.messages - a.messages)
      .slice(0, EXAMPLES * 2),
  };
};

const knownWeeks = (persons: Persons, hasUser: Uint8Array, weeks: Periods): KnownWeek[] => {
  const spans = Array.from({ length: weeks.count }, (_, i) => [weeks.starts[i]!, weeks.starts[i + 1]!] as const);
  const linked = personsWithin(persons, spans);
  const unlinked = personsWithin(personsByBasis(persons)['user ID first'], spans);
  return linked.map((set, i) => {
    let withUserId = 0;
    for (let p = 0; p < persons.count; p++) if (hasUser[p] === 1 && set.has(p)) withUserId++;
    return { at: weeks.starts[i]!, persons: set.size, withUserId, unlinked: unlinked[i]!.size };
  });
};

const inflationOf = (bases: readonly BasisFigure[]): number | undefined => {
  const of = (b: CountingBasis): number => bases.find((x) => x.basis === b)!.persons;
  return of('fully linked') === 0 ? undefined : of('user ID first') / of('fully linked') - 1;
};
