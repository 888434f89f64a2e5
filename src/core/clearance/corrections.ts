/** What is known to be wrong in the messages and can be put right: each with its rows, so that a figure can be worked out as it would be. What people
 *  sent stays as it is; a corrected table is one more view of it.
 */
import { clockAhead, rowsOfWrongClocks } from '../arrival/many/clock-ahead';
import { doubleFire, firedTwice } from '../arrival/many/double-fire';
import { prematureIn, reconcile } from '../arrival/many/premature-trigger';
import { wrongUnits } from '../arrival/many/unit-suspicion';
import { valuesOf, type Parameters } from '../arrival/check';
import { resolvePersons, type Persons } from '../identity/persons';
import { personRulesOf } from '../identity/person-rules';
import { likeness } from '../naming/likeness';
import { entries, settingsOf, type Plan } from '../plan/plan';
import { eventNamed } from '../plan/plan-index';
import { refKey, type PropertyRef } from '../plan/property-path';
import { saidOtherwise } from '../table/projection';
import type { MessageTable } from '../table/message-table';
import type { CorrectionId } from './correction-names';

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

/** What a rule would link that there is none for: kinds of the plan that come beside user IDs. Where linking is switched off, that is meant so. */
const missingLinks = (persons: Persons, countsPeople: boolean): Found['links'] => {
  const { table, rules } = persons;
  const user = table.ids.get(table.userKind);
  if (!countsPeople || !rules.linking || !user) return { pairs: [], messages: 0 };
  const isLinked = (kind: string): boolean =>
    rules.links.some(([a, b]) => (a === kind && b === table.userKind) || (b === kind && a === table.userKind));
  const pairs: [string, string][] = [];
  let messages = 0;
  for (const [kind, column] of table.ids) {
    if (kind === table.userKind || isLinked(kind) || (rules.kinds && !rules.kinds.includes(kind))) continue;
    let both = 0;
    for (let row = 0; row < table.length; row++) if (user.get(row) >= 0 && column.get(row) >= 0) both++;
    if (both === 0) continue;
    pairs.push([kind, table.userKind]);
    messages += both;
  }
  return { pairs, messages };
};

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
  const early = new Set(prematureIn(plan, reconcile(plan, table, now)).flatMap((g) => (names.has(g.params.eventName) ? g.rows : [])));
  const withinMs = parametersOf(plan, doubleFire).within * 1000;
  const twice = new Set<number>();
  for (const [, event] of entries(plan, 'event'))
    if (names.has(event.name)) for (const row of firedTwice(persons, event, withinMs)) twice.add(row);
  const clocks = new Map([...rowsOfWrongClocks(table, parametersOf(plan, clockAhead).tolerance * 60_000)].filter(([row]) => isOf(row)));
  const units = new Map<string, Map<number, number>>();
  for (const { ref, eventName, rows, factor } of wrongUnits(plan, table)) {
    if (!names.has(eventName)) continue;
    const key = refKey(ref);
    let own = units.get(key);
    if (!own) units.set(key, (own = new Map<number, number>()));
    for (const row of rows) own.set(row, factor);
  }
  return { twins, early, twice, clocks, units, links: missingLinks(persons, countsPeople) };
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
  readonly persons: Persons;
}

/** The messages with some of it put right, and the people in them. Shape: what was given where nothing is put right. */
export const corrected = (plan: Plan, persons: Persons, found: Found, on: ReadonlySet<CorrectionId>): Corrected => {
  const { table } = persons;
  const counts = countsOf(table, found);
  if (![...on].some((id) => counts[id] > 0)) return { plan, persons };
  const former = new Map<string, string[]>();
  if (on.has('twins')) for (const [twin, name] of found.twins) former.set(name, [...(former.get(name) ?? []), twin]);
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
  const next = saidOtherwise(table, renamed, {
    keeps: (row) => !(on.has('early') && found.early.has(row)) && !(on.has('twice') && found.twice.has(row)),
    ...(on.has('clocks')
      ? {
          timeAt: (row: number) => {
            const ahead = found.clocks.get(row);
            return ahead === undefined ? undefined : table.time.get(row) - ahead;
          },
        }
      : {}),
    ...(on.has('units')
      ? {
          valueAt: (row: number, ref: PropertyRef, value: unknown) => {
            const factor = found.units.get(refKey(ref))?.get(row);
            return factor === undefined || typeof value !== 'number' ? undefined : value / factor;
          },
        }
      : {}),
  });
  const { identity } = settingsOf(plan);
  const rules = on.has('links') ? { ...identity, links: [...identity.links, ...found.links.pairs] } : identity;
  return { plan: renamed, persons: resolvePersons(next, personRulesOf(plan, rules)) };
};
