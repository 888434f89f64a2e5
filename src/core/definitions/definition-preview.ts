/** What is shown of a definition while it is written: its preview, by the days of the workspace, beside the other definitions of the plan. */
import { masked } from '../arrival/personal-data';
import { entries, settingsOf, type Id, type Plan } from '../plan/plan';
import { periodsBetween } from '../questions/calendar';
import type { Attributed } from '../table/following-persons';
import type { Definition } from './definition';
import { matchContext } from './defined-events';
import { orderOf } from './order';
import { definitionNamed } from './planned';
import { sharing } from './overlap';
import { previewOfRows, takenBy, type Preview } from './preview';
import { rowsOfDefinition } from './matching-rows';

export interface Shared {
  readonly id: Id;
  readonly name: string;
  /** Messages of the other definition, and those that both take. */
  readonly messages: number;
  readonly both: number;
}

export interface DefinitionPreview extends Omit<Preview, 'perDay'> {
  /** Messages of each day, from the first one to today. Of very old ones only how many there are. */
  readonly days: readonly { readonly at: number; readonly messages: number }[];
  readonly before: number;
  /** Persons with at least one of the messages, and with one of the source. */
  readonly persons: number;
  readonly personsOfSource: number;
  /** Definitions that take some of the same messages, those that share most first. */
  readonly shared: readonly Shared[];
}

/** The names of a circle that a definition would close; `undefined` where there is none. */
export const circleWith = (plan: Plan, id: Id, d: Definition): readonly string[] | undefined => {
  const others = entries(plan, 'definition').flatMap(([other, x]) => (other === id || x.retired ? [] : [x as Definition]));
  const ordered = orderOf([d, ...others]);
  return ordered.ok ? undefined : ordered.circle;
};

const personsAmong = (rows: Int32Array, { personOfMessage, count }: Attributed): number => {
  const seen = new Uint8Array(count);
  let n = 0;
  for (let i = 0; i < rows.length; i++) {
    const p = personOfMessage[rows[i]!] ?? -1;
    if (p < 0 || seen[p] === 1) continue;
    seen[p] = 1;
    n++;
  }
  return n;
};

/** Persons of what sources offer, by the source and since when; of one state of the persons, which is another one whenever a message came. */
const ofSources = new WeakMap<Int32Array, Map<string, number>>();

const personsOfSource = ({ source, since }: Definition, offered: Int32Array, people: Attributed): number => {
  let known = ofSources.get(people.personOfMessage);
  if (!known) ofSources.set(people.personOfMessage, (known = new Map<string, number>()));
  const key = JSON.stringify([source, since, offered.length]);
  let persons = known.get(key);
  if (persons === undefined) known.set(key, (persons = personsAmong(offered, people)));
  return persons;
};

/** What a definition would take. `rules` as of `peopleWith`. Addresses with personal data in them are masked.
 *  Units: times in UTC epoch ms; days are those of the workspace's zone.
 */
export const definitionPreviewOf = (
  people: Attributed,
  plan: Plan,
  rules: string,
  id: Id,
  d: Definition,
  now: number,
): DefinitionPreview => {
  const c = matchContext(people, plan, rules, d);
  const { timeZone, weekStartsOn } = settingsOf(plan);
  const { table } = c;
  const taken = takenBy(d, c);
  const { offered, rows } = taken;
  let first = now;
  const time = table.time.raw;
  for (let i = 0; i < rows.length; i++) first = Math.min(first, time[rows[i]!]!);
  const periods = periodsBetween('day', first, now, timeZone, weekStartsOn);
  const { perDay, ...preview } = previewOfRows(table, taken, { count: periods.count, of: periods.find });
  const counts = new Map(perDay);
  const sharedWith = sharing(rows, table.length);
  const shared = entries(plan, 'definition').flatMap(([other, x]): Shared[] => {
    if (other === id || x.retired) return [];
    // Of those that share a name, the first is what the name means.
    const own =
      (definitionNamed(plan, x.name)?.[0] === other && c.definedRows?.(x.name)) ||
      rowsOfDefinition(x, matchContext(people, plan, rules, x));
    const both = sharedWith(own);
    return both === 0 ? [] : [{ id: other, name: x.name, messages: own.length, both }];
  });
  return {
    ...preview,
    byPage: preview.byPage.map((p) => ({ ...p, value: masked(p.value) })),
    byText: preview.byText.map((p) => ({ ...p, value: masked(p.value) })),
    lookAlikes: preview.lookAlikes.map((p) => ({ ...p, value: masked(p.value) })),
    textLookAlikes: preview.textLookAlikes.map((p) => ({ ...p, value: masked(p.value) })),
    days: periods.starts.slice(0, periods.count).map((at, i) => ({ at, messages: counts.get(i) ?? 0 })),
    before: counts.get(-1) ?? 0,
    persons: personsAmong(rows, people),
    personsOfSource: personsOfSource(d, offered, people),
    shared: shared.sort((a, b) => b.both - a.both || (a.name < b.name ? -1 : 1)),
  };
};
