/** What a view is computed on: the state that it holds, as a plan names it, the traffic that somebody chose, and the persons in it. */
import type { Persons } from '../core/identity/persons';
import { personRulesOf } from '../core/identity/person-rules';
import { DEFAULT_SETTINGS } from '../core/plan/defaults';
import { emptyPlan, type Plan } from '../core/plan/plan';
import { withPresentNames } from '../core/plan/rename';
import { Watch } from '../core/plan/watch';
import type { MessageTable } from '../core/table/message-table';
import { projected } from '../core/table/projection';
import { COUNTED, readTraffic, type Traffic } from '../core/table/traffic';
import type { PublishedPlan } from '../core/plan/version';
import { listVersions, loadVersion } from '../db/plan-store';
import { currentPersons, heldState } from './columns';
import { database } from '../server/context';
import { currentDraft } from '../server/draft';

export interface Scope {
  /** The plan that names, rules and persons are taken from. */
  readonly plan: Plan;
  /** The newest version, whichever plan is looked at. */
  readonly version: PublishedPlan | undefined;
  readonly traffic: Traffic;
  readonly table: MessageTable;
  /** Of this table, worked out at the first use. */
  readonly persons: Persons;
}

const NO_PLAN = emptyPlan(DEFAULT_SETTINGS);

const scopeOf = (plan: Plan, version: PublishedPlan | undefined, traffic: Traffic, table: MessageTable): Scope => {
  const seen = projected(table, plan, traffic);
  return {
    plan,
    version,
    traffic,
    table: seen,
    get persons() {
      return currentPersons(seen, personRulesOf(plan));
    },
  };
};

const trafficIn = (url: URL | undefined): Traffic => (url ? readTraffic(url.searchParams.get('traffic')) : COUNTED);

/** Under the newest version, or under nothing before there is one. `?traffic=` says which messages count. */
export const publishedScope = (url?: URL): Scope => {
  const { version, table } = heldState();
  return scopeOf(version?.plan ?? NO_PLAN, version, trafficIn(url), table);
};

/** Under the draft. */
export const draftScope = async (url?: URL): Promise<Scope> => {
  const plan = withPresentNames((await currentDraft()).plan);
  const { version, table } = heldState();
  return scopeOf(plan, version, trafficIn(url), table);
};

/** Under the newest version; under the draft before anything is published. */
export const inForceScope = async (url: URL): Promise<Scope> => {
  const scope = publishedScope(url);
  return scope.version ? scope : draftScope(url);
};

/** As in force, or under the draft where `?rules=draft` asks for it. */
export const chosenScope = (url: URL): Promise<Scope> => (url.searchParams.get('rules') === 'draft' ? draftScope(url) : inForceScope(url));

interface Watched {
  readonly number: number;
  readonly watch: Watch;
}

let watched: Promise<Watched> = Promise.resolve({ number: 0, watch: Watch.NOTHING });

/** The versions from the last one that was followed on. A version never changes, so each is read once. */
const follow = async (before: Watched, upTo: number): Promise<Watched> => {
  let { watch, number } = before.number <= upTo ? before : { watch: Watch.NOTHING, number: 0 };
  for (const v of (await listVersions(database())).filter((x) => x.number > number && x.number <= upTo).reverse()) {
    const whole = await loadVersion(database(), v.number);
    if (whole) watch = watch.followedBy(whole.plan, whole.at);
    number = v.number;
  }
  return { number, watch };
};

/** Since when what the newest version asks is watched. */
export const currentWatch = async (version: PublishedPlan | undefined): Promise<Watch> => {
  if (!version) return Watch.NOTHING;
  const before = watched;
  watched = before.catch(() => ({ number: 0, watch: Watch.NOTHING })).then((w) => follow(w, version.number));
  return (await watched).watch;
};
