/** What an event and its properties really look like, beside what the plan says of them. */
import { plannedAt, propertiesOf, settingsOf, type Plan, type Property, type PropertyType } from '../plan/plan';
import { automaticEvents } from '../plan/automatic';
import { sourcesOf } from './seen';
import { withDefinedEvents } from '../definitions/planned';
import { eventNamed } from '../plan/plan-index';
import { periodsBetween } from '../questions/calendar';
import { quantileOfCounts } from '../stats/quantile';
import { shownValue, typeWord, type MessageTable, type Scalar, type Value } from '../table/message-table';
import { isUnder } from '../plan/page-path';
import { personalDataIn } from './personal-data';
import { isPlaceholder } from '../identity/placeholder';
import { withOuters } from '../plan/outers';
import { DAY_MS } from '../time';
import { isInside, PathMap, refOfProperty, refText, type PropertyRef } from '../plan/property-path';

export interface Counted<T> {
  readonly value: T;
  readonly messages: number;
}

export type ProfileType = 'integer' | ReturnType<typeof typeWord>;

export interface PropertyProfile {
  readonly ref: PropertyRef;
  /** Its path, as it is shown. */
  readonly name: string;
  /** More was inside of it than is kept on its own, so that some of it is not listed. */
  readonly mayLack: boolean;
  readonly planned: Property | undefined;
  readonly required: boolean;
  /** Messages that carry it. */
  readonly messages: number;
  readonly distinct: number;
  /** What the values are, by messages. */
  readonly types: readonly Counted<ProfileType>[];
  /** The most frequent, most frequent first. */
  readonly top: readonly Counted<Scalar>[];
  /** Of the numbers. */
  readonly numbers: { readonly min: number; readonly median: number; readonly p95: number; readonly max: number } | undefined;
  /** Values by source, where sources differ in which they send: those that only some of them send. */
  readonly bySource: readonly {
    readonly sourceId: string;
    readonly messages: number;
    readonly distinct: number;
    readonly top: readonly Counted<Scalar>[];
  }[];
  /** What a plan entry would say. */
  readonly inferred: { readonly type: PropertyType; readonly allowed: readonly string[]; readonly samples: readonly string[] };
}

export interface EventProfile {
  readonly eventName: string;
  readonly planned: boolean;
  /** Made of what arrived under other names: nothing is to be drafted from it. */
  readonly defined: boolean;
  readonly messages: number;
  /** Those among them that came under a former name, by that name. */
  readonly formerNames: readonly Counted<string>[];
  /** UTC epoch ms. */
  readonly firstAt: number;
  readonly lastAt: number;
  readonly sources: readonly (Counted<string> & { readonly days: readonly number[] })[];
  /** Begin of each day that `days` counts, UTC epoch ms. */
  readonly days: readonly number[];
  readonly releases: readonly Counted<string>[];
  /** The pages or screens with most, and whether the plan wants it there. */
  readonly pages: readonly (Counted<string> & { readonly inScope: boolean })[];
  readonly pageCount: number;
  readonly properties: readonly PropertyProfile[];
  /** What the libraries of the sources that send it add on their own. */
  readonly automatic: readonly AutomaticProfile[];
}

export interface AutomaticProfile {
  readonly name: string;
  /** Sources that send the event: whether their library is said to add it, and how many of their messages carry it. */
  readonly sources: readonly {
    readonly sourceId: string;
    readonly declared: boolean;
    readonly messages: number;
    readonly of: number;
  }[];
}

export interface ArrivedName {
  readonly eventName: string;
  readonly messages: number;
  readonly planned: boolean;
  /** Made of what arrived under other names. */
  readonly defined: boolean;
  /** Sent by a library on its own, by what the plan says of its sources. */
  readonly automatic: boolean;
  /** What came from each source; nothing of what is defined. */
  readonly sources: readonly { readonly sourceId: string; readonly messages: number }[];
}

const DAYS = 28;
const TOP = 8;
const MAX_PAGES = 12;
/** A text with no more values than this, each of them common, is taken for a list. */
const MAX_LISTED = 12;
const MIN_PER_VALUE = 5;

/** Every name that came or is defined, most frequent first. */
export const arrivedNames = (plan: Plan, table: MessageTable): ArrivedName[] =>
  [...new Set([...table.names.values, ...table.definedNames()])]
    .map((eventName) => ({
      eventName,
      messages: table.rowsOf(eventName).length,
      planned: table.isDefined(eventName) || eventNamed(plan, eventName) !== undefined,
      defined: table.isDefined(eventName),
      automatic: automaticEvents(plan).has(eventName),
      sources: [...sourcesOf(table, eventName)].map(([sourceId, { messages }]) => ({ sourceId, messages })),
    }))
    .filter((n) => n.messages > 0)
    .sort((a, b) => b.messages - a.messages || (a.eventName < b.eventName ? -1 : 1));

const typeOf = (v: Value): ProfileType => {
  const word = typeWord(v);
  return word === 'number' && Number.isInteger(v) ? 'integer' : word;
};

const ranked = <T>(counts: ReadonlyMap<T, number>): Counted<T>[] =>
  [...counts].map(([value, messages]) => ({ value, messages })).sort((a, b) => b.messages - a.messages);

const inferredOf = (types: readonly Counted<string>[], top: readonly Counted<Scalar>[], distinct: number): PropertyProfile['inferred'] => {
  const has = (t: string): boolean => types.some((x) => x.value === t);
  const type: PropertyType = has('text')
    ? 'string'
    : has('object')
      ? 'object'
      : has('list')
        ? 'list of string'
        : has('number')
          ? 'number'
          : has('integer')
            ? 'integer'
            : 'boolean';
  // What is personal data is proposed to nobody, neither as a value of a list nor as a sample.
  const usable = top.filter(
    (x) => !(typeof x.value === 'string' && (x.value === '' || isPlaceholder(x.value) || personalDataIn(x.value) !== undefined)),
  );
  const listed =
    type === 'string' && distinct <= MAX_LISTED && usable.length === distinct && usable.every((x) => x.messages >= MIN_PER_VALUE);
  return {
    type,
    allowed: listed ? usable.map((x) => String(x.value)).sort() : [],
    samples: usable.slice(0, 3).map((x) => String(x.value)),
  };
};

/** The page of a message is beside its properties, and is mostly added by the library too. */
const PAGE = 'page';

const automaticOf = (plan: Plan, table: MessageTable, rows: Int32Array): AutomaticProfile[] => {
  const of = new Map<number, number>();
  for (const row of rows) of.set(table.source.get(row), (of.get(table.source.get(row)) ?? 0) + 1);
  const sources = [...of].map(([at, n]) => ({ at, of: n, sourceId: table.sources.values[at]! }));
  const names = new Set(sources.flatMap((s) => plan.source[s.sourceId]?.automaticProperties ?? []));
  return [...names].sort().map((name) => {
    const column = name === PAGE ? table.page : table.properties.get(name)?.column;
    return {
      name,
      sources: sources.map(({ at, sourceId, of: all }) => {
        let messages = 0;
        if (column) for (const row of rows) if (table.source.get(row) === at && column.get(row) >= 0) messages++;
        return { sourceId, declared: plan.source[sourceId]?.automaticProperties.includes(name) ?? false, messages, of: all };
      }),
    };
  });
};

/** Profiles one event over all that came, or what a definition takes of it; `undefined` for a name that never came. */
export const profileOf = (given: Plan, table: MessageTable, eventName: string, now: number): EventProfile | undefined => {
  const plan = withDefinedEvents(given);
  const rows = table.rowsOf(eventName);
  if (rows.length === 0) return undefined;
  const { timeZone, weekStartsOn } = settingsOf(plan);
  const event = eventNamed(plan, eventName)?.[1];
  const periods = periodsBetween('day', now - (DAYS - 1) * DAY_MS, now, timeZone, weekStartsOn);
  const time = table.time.raw;
  let [firstAt, lastAt] = [Infinity, -Infinity];
  const sources = new Map<number, { messages: number; days: number[] }>();
  const releases = new Map<string, number>();
  const pages = new Map<string, number>();
  for (const row of rows) {
    const at = time[row]!;
    firstAt = Math.min(firstAt, at);
    lastAt = Math.max(lastAt, at);
    const s = table.source.get(row);
    let own = sources.get(s);
    if (!own) sources.set(s, (own = { messages: 0, days: new Array<number>(periods.count).fill(0) }));
    own.messages++;
    if (at >= periods.starts[0]! && at < periods.starts[periods.count]!) own.days[periods.find(at)]!++;
    const release = table.releases.values[table.release.get(row)]!;
    releases.set(release, (releases.get(release) ?? 0) + 1);
    const page = table.page.get(row);
    if (page >= 0) pages.set(table.pages.values[page]!, (pages.get(table.pages.values[page]!) ?? 0) + 1);
  }
  const plannedProperties = event ? withOuters(propertiesOf(plan, event)) : [];
  const refs = new PathMap(plannedProperties.map((p) => [refOfProperty(p.property), true] as const));
  for (const ref of table.properties.keys()) {
    const own = table.propertyOf(eventName, ref);
    if (own && rows.some((row) => own.column.get(row) >= 0)) refs.add(ref, true);
  }
  const automatic = automaticOf(plan, table, rows);
  const crowded = table.crowdedNames('properties');
  // What a library adds is listed apart, with all that is inside of it.
  const isAutomatic = (ref: PropertyRef): boolean =>
    automatic.some((a) => isInside(ref, a.name)) && plannedAt(plannedProperties, ref) === undefined;
  const properties = [...refs.keys()]
    .filter((ref) => !isAutomatic(ref))
    .map((ref): PropertyProfile => {
      const planned = plannedAt(plannedProperties, ref);
      const column = table.propertyOf(eventName, ref);
      const counts = new Map<number, number>();
      const perSource = new Map<number, Map<number, number>>();
      for (const row of rows) {
        const v = column?.column.get(row) ?? -1;
        if (v < 0) continue;
        counts.set(v, (counts.get(v) ?? 0) + 1);
        const s = table.source.get(row);
        let own = perSource.get(s);
        if (!own) perSource.set(s, (own = new Map<number, number>()));
        own.set(v, (own.get(v) ?? 0) + 1);
      }
      const valueAt = (i: number): Value => column!.values.values[i]!;
      const value = (i: number): Scalar => shownValue(valueAt(i));
      const types = new Map<ReturnType<typeof typeOf>, number>();
      let messages = 0;
      for (const [i, n] of counts) {
        messages += n;
        const type = typeOf(valueAt(i));
        types.set(type, (types.get(type) ?? 0) + n);
      }
      // Lists and objects are shown by their size alone, and those of one size are one.
      const shownOf = (m: ReadonlyMap<number, number>, max: number): Counted<Scalar>[] => {
        const counted = new Map<Scalar, number>();
        for (const [i, n] of m) counted.set(value(i), (counted.get(value(i)) ?? 0) + n);
        return ranked(counted).slice(0, max);
      };
      const numbers = [...counts].filter(([i]) => typeof valueAt(i) === 'number').sort((a, b) => Number(value(a[0])) - Number(value(b[0])));
      const at = (p: number): number =>
        quantileOfCounts(
          numbers.map(([i]) => Number(value(i))),
          numbers.map(([, n]) => n),
          p,
        )!;
      const top = shownOf(counts, MAX_LISTED);
      const typeList = ranked(types);
      return {
        ref,
        name: refText(ref),
        planned: planned?.property,
        mayLack: typeof ref === 'string' && crowded.has(ref),
        required: planned?.required ?? false,
        messages,
        distinct: counts.size,
        types: typeList,
        top: top.slice(0, TOP),
        numbers: numbers.length === 0 ? undefined : { min: at(0), median: at(0.5), p95: at(0.95), max: at(1) },
        bySource: [...perSource].map(([s, own]) => ({
          sourceId: table.sources.values[s]!,
          messages: [...own.values()].reduce((a, b) => a + b, 0),
          distinct: own.size,
          top: shownOf(own, TOP),
        })),
        inferred: inferredOf(typeList, top, counts.size),
      };
    });
  const scope = event?.scope ?? '';
  return {
    eventName,
    planned: event !== undefined,
    defined: table.isDefined(eventName),
    messages: rows.length,
    formerNames: ranked(table.formerNames.get(eventName) ?? new Map<string, number>()),
    firstAt,
    lastAt,
    sources: [...sources].map(([s, own]) => ({ value: table.sources.values[s]!, ...own })).sort((a, b) => b.messages - a.messages),
    days: periods.starts.slice(0, periods.count),
    releases: ranked(releases),
    pages: ranked(pages)
      .map((p) => ({ ...p, inScope: isUnder(p.value, scope) }))
      .sort((a, b) => Number(a.inScope) - Number(b.inScope) || b.messages - a.messages)
      .slice(0, MAX_PAGES),
    pageCount: pages.size,
    automatic,
    properties: properties.sort((a, b) => Number(b.planned !== undefined) - Number(a.planned !== undefined) || b.messages - a.messages),
  };
};
