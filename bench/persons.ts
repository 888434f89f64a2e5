/** Persons out of five million messages with a million identifiers, against interning the identifiers' texts alone in the same run; then a
 *  person's identifiers and the guards; then what is known by person when two turn out to be one. The answer is worked out once more from what was generated.
 */
import assert from 'node:assert/strict';
import { DEFAULT_SETTINGS } from '../src/core/plan/defaults';
import { LivingPersons } from '../src/core/identity/living-persons';
import { countingBases } from '../src/core/identity/counting-basis';
import { sentByPersons } from '../src/core/identity/person-facts';
import { resolvePersons, type Persons } from '../src/core/identity/persons';
import { eventView } from '../src/core/table/event-view';
import { MessageTable } from '../src/core/table/message-table';
import { sessionsOf } from '../src/core/table/sessions';
import { seeded } from '../src/demo/random';
import { goal, measure, size } from './measure';

const MESSAGES = size(5_000_000, 40_000);
const PERSONS = size(400_000, 3000);
const GOAL = 1.5;
const ROUNDS = 3;

const NEW_LINKS = size(2000, 20);
const LINK_GOAL_MS = 1;

/** Links that come one by one to persons who are known, against working all people out anew for each. */
const newLinks = (table: MessageTable, anew: number): boolean => {
  const rules = DEFAULT_SETTINGS.identity;
  const living = new LivingPersons(table, rules);
  living.follow();
  const began = table.length;
  const [devices, anonymous] = [new Set<string>(), new Set<string>()];
  for (const n of table.nodes) {
    if (n.kind === 'device' && devices.size < NEW_LINKS) devices.add(n.value);
    if (n.kind === 'anonymous' && anonymous.size < NEW_LINKS) anonymous.add(n.value);
  }
  const ends = [...anonymous];
  const times: number[] = [];
  for (const [i, device] of [...devices].entries()) {
    table.append({
      seq: began + i + 1,
      kind: 'identify',
      name: '',
      sourceId: 's',
      release: '',
      occurredAt: began + i,
      ids: { device, anonymous: ends[i]! },
      properties: {},
    });
    const from = performance.now();
    assert.equal(living.follow(), 1);
    times.push(performance.now() - from);
  }
  const [one, all] = [living.persons(), resolvePersons(table, rules)];
  assert.equal(one.count, all.count);
  assert.deepEqual(one.personOfMessage, all.personOfMessage);
  times.sort((a, b) => a - b);
  const [median, late] = [times[Math.floor(times.length / 2)]!, times[Math.floor(times.length * 0.99)]!];
  console.log(
    `a new link: median ${median.toFixed(4)} ms, 99 of 100 within ${late.toFixed(3)} ms; ${Math.round(anew / median).toLocaleString('en-GB')} times as fast as all anew`,
  );
  return goal(`${LINK_GOAL_MS} ms over the time that 99 of 100 new links take`, LINK_GOAL_MS / late, 1);
};

const JOINS = size(20, 3);
const JOINED_GOAL = 5;
const GAP_MS = 1_800_000;

/** Two who were there turn out to be one, by these identifiers: what is known by person carried over, against working it out from nothing. No guard speaks:
 *  neither has a user ID.
 */
const joined = (table: MessageTable, ends: readonly (readonly [string, string])[]): boolean => {
  const rules = DEFAULT_SETTINGS.identity;
  const living = new LivingPersons(table, rules);
  const known = (people: Persons): unknown => {
    const sent = sentByPersons(people, []).messages;
    return [
      people.count,
      sessionsOf(people, GAP_MS).count,
      eventView(people, 'E').person.length,
      people.personOfMessage.slice(-3).map((p) => sent[p]!),
      countingBases(people),
    ];
  };
  const timed = <T>(work: () => T): readonly [T, number] => {
    const from = performance.now();
    const value = work();
    return [value, performance.now() - from];
  };
  living.follow();
  const [, anew] = timed(() => known(living.persons()));
  const { count } = living.persons();
  const times = ends.map(([device, anonymous]) => {
    const ids = { device, anonymous };
    table.append({ seq: table.length + 1, kind: 'event', name: 'E', sourceId: 's', release: '', occurredAt: table.length, ids, properties: {} }); // prettier-ignore
    return timed(() => (living.follow(), known(living.persons())))[1];
  });
  assert.deepEqual(known(living.persons()), known(resolvePersons(table, rules)));
  assert.equal(living.persons().count, count - ends.length);
  times.sort((a, b) => a - b);
  const median = times[times.length >> 1]!;
  console.log(`two who turn out to be one: all that is known by person after ${median.toFixed(0)} ms, from nothing ${anew.toFixed(0)} ms`);
  return goal('from nothing ÷ carried over', anew / median, JOINED_GOAL);
};

const A = 1;
const U = 2;
const D = 4;

export const benchPersons = async (): Promise<boolean> => {
  const rng = seeded(12);
  const table = new MessageTable();
  const names = (prefix: string): string[] =>
    Array.from({ length: PERSONS }, (_, i) => `${prefix}-${(i * 2_654_435_761 + 17).toString(36)}`);
  const [anonymous, user, device] = [names('a'), names('m'), names('d')];
  /** Which pairs were seen together, and which identifiers at all, for each person. */
  const seen = new Uint8Array(PERSONS);
  const together = new Uint8Array(PERSONS);
  const texts: string[] = [];
  for (let i = 0; i < MESSAGES; i++) {
    const p = Math.floor(rng.next() * PERSONS);
    const r = rng.next();
    const carries = (r < 0.55 ? A : r < 0.8 ? A | U : r < 0.9 ? U : D | (r < 0.95 ? U : 0)) & (p % 4 === 0 ? ~U : -1);
    const ids: Record<string, string> = {};
    if (carries & A) texts.push((ids['anonymous'] = anonymous[p]!));
    if (carries & U) texts.push((ids['user'] = user[p]!));
    if (carries & D) texts.push((ids['device'] = device[p]!));
    seen[p]! |= carries;
    if ((carries & (A | U)) === (A | U)) together[p]! |= 1;
    if ((carries & (D | U)) === (D | U)) together[p]! |= 2;
    table.append({ seq: i + 1, kind: 'event', name: 'E', sourceId: 's', release: '', occurredAt: i, ids, properties: {} });
  }
  let expected = 0;
  for (let p = 0; p < PERSONS; p++) {
    const nodes = [A, U, D].filter((x) => seen[p]! & x).length;
    expected += nodes - (together[p]! & 1) - (together[p]! >> 1);
  }
  const rules = DEFAULT_SETTINGS.identity;
  assert.equal(resolvePersons(table, rules).count, expected);
  const intern = (): number => {
    const index = new Map<string, number>();
    for (const t of texts) if (!index.has(t)) index.set(t, index.size);
    return index.size;
  };
  assert.equal(intern(), table.nodes.length);
  const times = await measure(
    [
      { name: 'intern', run: () => void intern() },
      { name: 'persons', run: () => void resolvePersons(table, rules) },
    ],
    ROUNDS,
  );
  const [reference, own] = [times.get('intern')!, times.get('persons')!];
  console.log(`${table.nodes.length.toLocaleString('en-GB')} identifiers, ${expected.toLocaleString('en-GB')} persons`);
  console.log(`persons ${Math.round(own)} ms, interning alone ${Math.round(reference)} ms: ${(own / reference).toFixed(2)} times its time`);
  console.log(`memory held: ${Math.round(process.memoryUsage().rss / 1e6)} MB, the generated texts among it`);
  const fast = goal('interning’s time ÷ that of persons', reference / own, Math.round(100 / GOAL) / 100);
  // They are not of what follows, and the collector would go through all of them.
  texts.length = 0;
  const nobody = [...seen.keys()].filter((p) => p % 4 === 0);
  const [withDevice, withAnonymous] = [nobody.filter((p) => seen[p]! & D), nobody.filter((p) => seen[p]! & A).reverse()];
  const ends = Array.from({ length: JOINS }, (_, i) => [device[withDevice[i]!]!, anonymous[withAnonymous[i]!]!] as const);
  const carried = joined(table, ends);
  return newLinks(table, own) && carried && fast;
};
