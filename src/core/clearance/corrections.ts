/** What is known to be wrong in the messages and can be put right: each with its rows, so that a figure can be worked out as it would be. What people
 *  sent stays as it is; a corrected table is one more view of it.
 */
import { clockAhead, rowsOfWrongClocks } from '../arrival/many/clock-ahead';
import { doubleFire, firedTwice } from '../arrival/many/double-fire';
import { prematureIn, reconcile } from '../arrival/many/premature-trigger';
import { wrongUnits } from '../arrival/many/unit-suspicion';
import { valuesOf, type Parameters } from '../arrival/check';
import { keepingPersons } from '../identity/kept-persons';
import { personRulesOf } from '../identity/person-rules';
import type { Persons } from '../identity/persons';
import { personsOtherwise, type Resolved } from '../identity/persons-otherwise';
import { likeness } from '../naming/likeness';
import { canonicalJson } from '../plan/content-hash';
import { entries, settingsOf, type Plan } from '../plan/plan';
import { eventNamed } from '../plan/plan-index';
import { refKey } from '../plan/property-path';
import { following } from '../table/following';
import type { MessageTable, Value } from '../table/message-table';
import { overlaid, type Otherwise } from '../table/overlay';
import { CORRECTIONS, type CorrectionId } from './correction-names';

/** Everything that a correction touches, of the events of one question. */
interface Found {
  /** Name under which messages came → the event that they are. */
  readonly twins: ReadonlyMap<string, string>;
  readonly early: ReadonlySet<number>;
  readonly twice: ReadonlySet<number>;
  /** Row → ms that its clock is ahead. */
  readonly clocks: ReadonlyMap<number, number>;
  /** Property → row → how many times too large its value is. */
  readonly units: ReadonlyMap<string, ReadonlyMap<number, number>>;
  /** Kinds that come beside a user ID and that no rule links to it, and how many messages carry both. */
  readonly links: { readonly pairs: readonly (readonly [string, string])[]; readonly messages: number };
}

/** The identifiers of a kind that came beside a user ID: how many messages carry both. */
const besideUser = following(
  () => ({ both: 0 }),
  (state, table, from, to, kind) => {
    const [user, own] = [table.ids.get(table.userKind)?.rawFor(to), table.ids.get(kind)?.rawFor(to)];
    if (user && own) for (let row = from; row < to; row++) if (user[row]! >= 0 && own[row]! >= 0) state.both++;
  },
);

/** What a rule would link that there is none for: kinds of the plan that come beside user IDs. Where linking is switched off, that is meant so. */
export const missingLinks = ({ table, rules }: Persons): Found['links'] => {
  if (!rules.linking || !table.ids.has(table.userKind)) return NO_LINKS;
  const isLinked = (kind: string): boolean =>
    rules.links.some(([a, b]) => (a === kind && b === table.userKind) || (b === kind && a === table.userKind));
  const pairs: [string, string][] = [];
  let messages = 0;
  for (const kind of table.ids.keys()) {
    if (kind === table.userKind || isLinked(kind) || (rules.kinds && !rules.kinds.includes(kind))) continue;
    const { both } = besideUser(table, kind);
    if (both === 0) continue;
    pairs.push([kind, table.userKind]);
    messages += both;
  }
  return { pairs, messages };
};
const NO_LINKS: Found['links'] = { pairs: [], messages: 0 };

const parametersOf = <P extends Parameters>(plan: Plan, check: { readonly id: string; readonly parameters?: P }) =>
  valuesOf(check.parameters, settingsOf(plan).rules[check.id]);

/** What can be put right among the messages of events of these names; of who people are, where people are counted. */
export const correctable = (plan: Plan, persons: Persons, names: ReadonlySet<string>, now: number, countsPeople = true): Found => {
  const { table } = persons;
  const isOf = (row: number): boolean => names.has(table.names.values[table.name.get(row)] ?? '');
  const twins = new Map<string, string>();
  for (const name of names)
    for (const arrived of table.names.values)
      if (arrived !== name && !eventNamed(plan, arrived) && likeness(arrived, name) === 'same but for case') twins.set(arrived, name);
  const early = new Set(prematureIn(plan, reconcile(plan, table, now, names)).flatMap((g) => g.rows));
  const withinMs = parametersOf(plan, doubleFire).within * 1000;
  const twice = new Set<number>();
  for (const [, event] of entries(plan, 'event'))
    if (names.has(event.name)) for (const row of firedTwice(persons, event, withinMs)) twice.add(row);
  const clocks = new Map([...rowsOfWrongClocks(table, parametersOf(plan, clockAhead).tolerance * 60_000)].filter(([row]) => isOf(row)));
  const units = new Map<string, Map<number, number>>();
  for (const { ref, rows, factor } of wrongUnits(plan, table, names)) {
    const key = refKey(ref);
    let own = units.get(key);
    if (!own) units.set(key, (own = new Map<number, number>()));
    for (const row of rows) own.set(row, factor);
  }
  return { twins, early, twice, clocks, units, links: countsPeople ? missingLinks(persons) : NO_LINKS };
};

/** How many messages each correction touches. */
export const countsOf = (table: MessageTable, found: Found): Record<CorrectionId, number> => ({
  twins: [...found.twins.keys()].reduce((n, name) => n + table.rowsOf(name).length, 0),
  early: found.early.size,
  twice: found.twice.size,
  clocks: found.clocks.size,
  units: [...found.units.values()].reduce((n, rows) => n + rows.size, 0),
  links: found.links.messages,
});

export interface Corrected {
  readonly plan: Plan;
  readonly persons: Resolved;
  /** By what it is the people hang on; `undefined` where they are those of messages as they came. */
  readonly people: string | undefined;
}

/** So many other rules are followed, under which a link that is missing is there. */
const MAX_RULES = 2;
const personsBy = keepingPersons(MAX_RULES);

const valuesOtherwise = (table: MessageTable, units: Found['units']): Map<string, Map<number, Value>> => {
  const out = new Map<string, Map<number, Value>>();
  for (const [ref, { column, values }] of table.properties) {
    const factors = units.get(refKey(ref));
    if (!factors) continue;
    const own = new Map<number, Value>();
    for (const [row, factor] of factors) {
      const value = values.values[column.get(row)];
      if (typeof value === 'number') own.set(row, value / factor);
    }
    out.set(refKey(ref), own);
  }
  return out;
};

const NOTHING: ReadonlyMap<never, never> = new Map<never, never>();

/** The messages with some of it put right, and the people in them: an overlay of those that there are, which stay as they came.
 *  Shape: what was given where nothing is put right. `plan` is the one under which spellings that were united are former names. `before`: as far as
 *  it was put right already, where whoever asks goes step by step; where a step makes nobody somebody else, the people are those.
 */
export const corrected = (plan: Plan, persons: Persons, found: Found, on: ReadonlySet<CorrectionId>, before?: Corrected): Corrected => {
  const { table } = persons;
  const counts = countsOf(table, found);
  const isOn = (id: CorrectionId): boolean => on.has(id) && counts[id] > 0;
  if (!CORRECTIONS.some(({ id }) => isOn(id))) return { plan, persons, people: undefined };
  const former = new Map<string, string[]>();
  if (isOn('twins')) for (const [twin, name] of found.twins) former.set(name, [...(former.get(name) ?? []), twin]);
  const renamed: Plan =
    former.size === 0
      ? plan
      : {
          ...plan,
          event: Object.fromEntries(
            entries(plan, 'event').map(([id, e]) => [
              id,
              former.has(e.name) ? { ...e, formerNames: [...e.formerNames, ...former.get(e.name)!] } : e,
            ]),
          ),
        };
  const otherwise: Otherwise = {
    leftOut: new Set([...(isOn('early') ? found.early : []), ...(isOn('twice') ? found.twice : [])]),
    times: isOn('clocks') ? new Map([...found.clocks].map(([row, ahead]) => [row, table.time.get(row) - ahead])) : NOTHING,
    names: isOn('twins') ? found.twins : NOTHING,
    values: isOn('units') ? valuesOtherwise(table, found.units) : NOTHING,
  };
  const { identity } = settingsOf(plan);
  const rules = personRulesOf(renamed, isOn('links') ? { ...identity, links: [...identity.links, ...found.links.pairs] } : identity);
  const who = canonicalJson(rules) === canonicalJson(persons.rules) ? persons : personsBy(table, rules);
  const isTouched = otherwise.leftOut.size + otherwise.times.size + otherwise.names.size + otherwise.values.size > 0;
  if (!isTouched) return { plan: renamed, persons: who, people: undefined };
  const over = overlaid(table, otherwise);
  // What a value is, and which event a message is of, makes nobody somebody else, as long as it is no sign-out.
  const signOuts = [...otherwise.names].some((pair) => pair.some((name) => rules.signOutEvents.includes(name)));
  const people = canonicalJson([canonicalJson(rules), isOn('early'), isOn('twice'), isOn('clocks'), signOuts]);
  const same = before?.people === people ? before.persons : undefined;
  const resolved = same
    ? { ...same, table: over, lineage: {}, personOfMessage: same.personOfMessage.slice() }
    : personsOtherwise(who, over, otherwise);
  return { plan: renamed, persons: { ...resolved, otherwise: { than: who, dated: [...otherwise.times.keys()] } }, people };
};
