/** How far each event is on each source: from the plan to the code, to the first message, to a trial that passed. */
import { heldBackBy } from '../formats/ticket';
import { entries, isLive, type Id, type Plan } from '../plan/plan';
import type { Seen } from '../arrival/seen';
import type { TrialResult } from '../trial/trial-run';

export const PROGRESS_STATES = [
  'held back',
  'ready',
  'handed over',
  'built',
  'seen',
  'trial failed',
  'verified',
  'verified before',
  'retired',
] as const;
export type ProgressState = (typeof PROGRESS_STATES)[number];

export interface HandOver {
  readonly eventId: Id;
  readonly sourceId: Id;
  readonly planVersion: number;
  /** Of the ticket, where it has one. */
  readonly address: string;
  readonly author: string;
  /** UTC epoch ms. */
  readonly at: number;
}

export interface ProgressPair {
  readonly eventId: Id;
  readonly sourceId: Id;
  readonly required: boolean;
  readonly state: ProgressState;
  /** Since when, UTC epoch ms, and in which release, where that is known. */
  readonly since: number | undefined;
  readonly release: string;
  /** What waits for whom, as one sentence; empty where nothing does. */
  readonly waits: string;
  readonly handOver: HandOver | undefined;
  readonly seen: Seen | undefined;
  readonly verified: TrialResult | undefined;
  /** The release that came last. */
  readonly newest: string | undefined;
}

export interface ProgressFacts {
  readonly seenOf: (eventName: string, sourceId: Id) => Seen | undefined;
  readonly newestReleaseOf: (eventName: string, sourceId: Id) => string | undefined;
  /** The newest of each pair first. */
  readonly handOvers: readonly HandOver[];
  readonly tried: readonly TrialResult[];
}

const who = (name: string, otherwise: string): string => (name === '' ? otherwise : name);

/** Every planned pair of event and source, in the order of the plan.
 *  Shape: what arrived and what was tried go before what somebody wrote into the plan. A trial holds for its release, the
 *  last of one: when a later release has come, what passed is `verified before`. Former names count as the event's.
 */
export const progressOf = (plan: Plan, { seenOf, newestReleaseOf, handOvers, tried }: ProgressFacts): ProgressPair[] => {
  const live = entries(plan, 'event').sort(([i, a], [j, b]) => a.order - b.order || (i < j ? -1 : 1));
  return live.flatMap(([eventId, e]) =>
    e.sources.map((s): ProgressPair => {
      const { sourceId, required } = s;
      const source = plan.source[sourceId];
      const held = heldBackBy(plan, e);
      const handOver = handOvers.find((h) => h.eventId === eventId && h.sourceId === sourceId);
      const names = [e.name, ...e.formerNames];
      const seen = names
        .map((n) => seenOf(n, sourceId))
        .filter((x) => x !== undefined)
        .sort((a, b) => a.at - b.at)[0];
      const results = tried.filter((v) => names.includes(v.eventName) && v.sourceId === sourceId).sort((a, b) => b.at - a.at);
      const releases = new Set<string>();
      // Of each release the last one counts, under whichever of its names the event was tried.
      const standing = results.filter((r) => !releases.has(r.release) && releases.add(r.release));
      const newest = newestReleaseOf(e.name, sourceId);
      const present = newest === undefined ? standing[0] : standing.find((r) => r.release === newest);
      const proof = present?.passed ? present : standing.find((r) => r.passed);
      const base = { eventId, sourceId, required, handOver, seen, verified: proof, newest };
      const is = (state: ProgressState, since: number | undefined, release: string, waits: string): ProgressPair => ({
        ...base,
        state,
        since,
        release,
        waits,
      });
      const name = source?.name ?? sourceId;
      if (e.retired || s.build === 'retired' || !isLive(e)) return is('retired', undefined, '', '');
      if (present && !present.passed)
        return is(
          'trial failed',
          present.at,
          present.release,
          `The trial of ${present.release || 'an unnamed release'} by ${present.author} failed: fix it, then try it again.`,
        );
      if (present) return is('verified', present.at, present.release, '');
      if (proof)
        return is(
          'verified before',
          proof.at,
          proof.release,
          `Verified for ${proof.release || 'an unnamed release'}, now ${newest || 'an unnamed release'}: try it again.`,
        );
      // Somebody verified it without a trial.
      if (seen && s.build === 'verified') return is('verified', undefined, s.since ?? '', '');
      if (seen) return is('seen', seen.at, seen.release, 'A trial run.');
      if (s.build === 'built' || s.build === 'verified') return is('built', undefined, s.since ?? '', `The first message from ${name}.`);
      if (held.length > 0)
        return is(
          'held back',
          undefined,
          '',
          `${who(e.owner, 'The plan')}: ${held.slice(0, 3).join(', ')}${held.length > 3 ? ` and ${held.length - 3} more` : ''} missing.`,
        );
      if (handOver) return is('handed over', handOver.at, '', `${who(source?.owner ?? '', name)}: to be built.`);
      return is('ready', undefined, '', `${who(e.owner, 'Whoever keeps the plan')}: to be handed over.`);
    }),
  );
};

/** How many pairs are in each state. */
export const progressCounts = (pairs: readonly ProgressPair[]): Record<ProgressState, number> => {
  const counts = Object.fromEntries(PROGRESS_STATES.map((s) => [s, 0])) as Record<ProgressState, number>;
  for (const p of pairs) counts[p.state]++;
  return counts;
};
