/** Since when what is planned is watched. A wait belongs to the event and source that are waited for: what else was published since does not
 *  begin it again.
 */
import { canonicalJson } from './content-hash';
import { entries, settingsOf, type EventSource, type Id, type Kind, type Plan, type PlanEvent, type Source } from './plan';

/** What is asked of a source for an event, as far as a wait hangs on it; `undefined` where nothing is asked. */
const askedOf = (e: PlanEvent, s: EventSource): string | undefined =>
  e.retired || e.name === '' || !s.required || s.build === 'proposed' || s.build === 'retired' ? undefined : (s.since ?? '');

/** What is asked of a source itself: that it carries its identifiers after sign-in. */
const askedOfSource = (s: Source): string => JSON.stringify(s.idKinds.afterSignIn);

/** Fields for readers, for whoever builds it, and for how it is shown: no figure means anything else by them. */
const NO_MEANING = new Set(['description', 'owner', 'notes', 'keepReason', 'order', 'flow', 'samples', 'object', 'action', 'sources', 'build', 'conversion', 'formerNames', 'provenance', 'explanation']); // prettier-ignore

/** What a body means, as text: without its words. */
export const meaningOf = (body: object): string =>
  canonicalJson(Object.fromEntries(Object.entries(body).filter(([field]) => !NO_MEANING.has(field))));

const MEANT = ['event', 'property', 'sharedSet', 'userProperty', 'identifierKind', 'definition'] as const satisfies readonly Kind[];
const IDENTITY = 'identity';

interface Asked {
  readonly what: string;
  /** UTC epoch ms. */
  readonly since: number;
}

/** What each version asked, followed one after the other. */
export class Watch {
  private constructor(
    private readonly pairs: ReadonlyMap<Id, ReadonlyMap<Id, Asked>>,
    private readonly sources: ReadonlyMap<Id, Asked>,
    private readonly meanings: ReadonlyMap<string, Asked>,
  ) {}

  static readonly NOTHING = new Watch(new Map(), new Map(), new Map());

  /** Everything that a plan asks, since one moment: for a plan without a history. */
  static of(plan: Plan, since: number): Watch {
    return Watch.NOTHING.followedBy(plan, since);
  }

  /** The same after the next version. Shape: `at` is when it was published, UTC epoch ms. */
  followedBy(plan: Plan, at: number): Watch {
    const carriedOn = (before: Asked | undefined, what: string): Asked => (before?.what === what ? before : { what, since: at });
    const pairs = new Map<Id, Map<Id, Asked>>();
    for (const [id, e] of entries(plan, 'event')) {
      const own = new Map<Id, Asked>();
      for (const s of e.sources) {
        const what = askedOf(e, s);
        if (what !== undefined) own.set(s.sourceId, carriedOn(this.pairs.get(id)?.get(s.sourceId), what));
      }
      pairs.set(id, own);
    }
    const sources = new Map(entries(plan, 'source').map(([id, s]) => [id, carriedOn(this.sources.get(id), askedOfSource(s))]));
    const meanings = new Map<string, Asked>();
    for (const kind of MEANT)
      for (const [id, body] of entries(plan, kind)) {
        const key = `${kind} ${id}`;
        meanings.set(key, carriedOn(this.meanings.get(key), meaningOf(body)));
      }
    meanings.set(IDENTITY, carriedOn(this.meanings.get(IDENTITY), canonicalJson(settingsOf(plan).identity)));
    return new Watch(pairs, sources, meanings);
  }

  /** Since when an event is asked of a source; `undefined` where it is not. */
  pair(eventId: Id, sourceId: Id): number | undefined {
    return this.pairs.get(eventId)?.get(sourceId)?.since;
  }

  /** Since when an entity means what it means now; `undefined` where it is not published. */
  meaning(kind: (typeof MEANT)[number], id: Id): number | undefined {
    return this.meanings.get(`${kind} ${id}`)?.since;
  }

  /** Since when the identity rules are what they are now. */
  identity(): number | undefined {
    return this.meanings.get(IDENTITY)?.since;
  }

  /** Since when a source is asked for the identifiers that it is asked for now. */
  source(sourceId: Id): number | undefined {
    return this.sources.get(sourceId)?.since;
  }
}
