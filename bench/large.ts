/** Five million messages in columns: the findings with where each stands, and one person's logbook, each right after one more message came.
 *  Asserted first: the counts are those that were generated. Reference in the same run: one pass over the times of all messages.
 *  What the database adds on the server is a look-up of some hundred rows by key, which is not measured here.
 */
import assert from 'node:assert/strict';
import { arrivalCounts } from '../src/core/arrival/counts';
import { groupFindings } from '../src/core/arrival/finding-group';
import { logbookOf, personOfIdentifier } from '../src/core/arrival/logbook';
import { triaged } from '../src/core/arrival/triage';
import { LivingPersons } from '../src/core/identity/living-persons';
import { DEFAULT_SETTINGS } from '../src/core/plan/defaults';
import { emptyPlan } from '../src/core/plan/plan';
import { MessageTable } from '../src/core/table/message-table';
import { seeded } from '../src/demo/random';
import { goal, measure, size } from './measure';

const MESSAGES = size(5_000_000, 100_000);
const PERSONS = size(400_000, 3000);
const NAMES = 40;
const LIMIT_MS = 300;
const ROUNDS = 7;
const HOUR_MS = 3_600_000;
const NOW = Date.parse('2026-11-23T12:00:00Z');
const SPAN_MS = 56 * 24 * HOUR_MS;

export const benchLarge = async (): Promise<boolean> => {
  const random = seeded(21).next;
  const whole = (n: number): number => Math.floor(random() * n);
  const table = new MessageTable();
  const perName = new Map<string, number>();
  let ofOne = 0;
  const add = (i: number): void => {
    const p = whole(PERSONS);
    const name = `Crate Moved ${whole(NAMES)}`;
    const sourceId = `s${whole(4)}`;
    const release = `r${Math.floor((i / MESSAGES) * 8)}`;
    const r = random();
    const ids: Record<string, string> =
      r < 0.6 ? { anonymous: `a-${p}` } : r < 0.9 ? { anonymous: `a-${p}`, user: `m-${p}` } : { user: `m-${p}` };
    const at = NOW - SPAN_MS + Math.floor((Math.min(i, MESSAGES) / MESSAGES) * SPAN_MS);
    const faulty = random() < size(0.02, 0.2);
    const code = 'type-mismatch';
    table.append(
      { seq: i + 1, kind: 'event', name, sourceId, release, occurredAt: at, ids, properties: {} },
      faulty ? [{ code, severity: 'caution', path: ['properties', 'weight'], params: {} } as never] : undefined,
    );
    perName.set(`${name} ${sourceId}`, (perName.get(`${name} ${sourceId}`) ?? 0) + 1);
    if (p === 7) ofOne++;
  };
  for (let i = 0; i < MESSAGES; i++) add(i);
  const plan = emptyPlan(DEFAULT_SETTINGS);
  const living = new LivingPersons(table, DEFAULT_SETTINGS.identity);
  living.follow();
  const findings = () => {
    const groups = groupFindings(table, [], NOW);
    return triaged(groups, [], table, NOW, 48 * HOUR_MS);
  };
  const logbook = () => {
    living.follow();
    const persons = living.persons();
    return logbookOf(plan, persons, personOfIdentifier(persons, 'anonymous', 'a-7'));
  };
  const groups = findings();
  assert.equal(groups.length, NAMES * 4);
  assert.equal(
    groups.reduce((n, g) => n + g.outOf, 0),
    MESSAGES,
  );
  for (const g of groups) assert.equal(g.outOf, perName.get(`${g.eventName} ${g.sourceId}`));
  assert.equal(logbook()?.messages, ofOne);
  let next = MESSAGES;
  let sum = 0;
  const t = await measure(
    [
      {
        name: 'findings',
        run: () => {
          add(next++);
          findings();
        },
      },
      {
        name: 'logbook',
        run: () => {
          add(next++);
          logbook();
        },
      },
      {
        name: 'pass',
        run: () => {
          for (let i = 0; i < table.length; i++) sum += table.time.get(i);
        },
      },
    ],
    ROUNDS,
  );
  assert(sum > 0);
  const pass = t.get('pass')!;
  let met = true;
  for (const name of ['findings', 'logbook']) {
    const ms = t.get(name)!;
    console.log(`${name}: ${ms.toFixed(0)} ms, ${(ms / pass).toFixed(1)} times a pass over the times (${pass.toFixed(1)} ms)`);
    met = goal(`${LIMIT_MS} ms over the time of ${name} at ${(MESSAGES / 1e6).toFixed(0)} million messages`, LIMIT_MS / ms, 1) && met;
  }
  // Counts and delays: from nothing, and again after one more message.
  living.follow();
  const asked = { plan, from: -Infinity, now: NOW + HOUR_MS };
  const began = performance.now();
  arrivalCounts({ ...asked, people: living.persons() });
  const first = performance.now() - began;
  add(next++);
  living.follow();
  const from = performance.now();
  const counts = arrivalCounts({ ...asked, people: living.persons() });
  const again = performance.now() - from;
  assert.equal(counts.whole.messages, table.length);
  assert.equal(
    counts.events.reduce((n, e) => n + e.messages, 0),
    table.length,
  );
  assert.equal(
    counts.sources.reduce((n, s) => n + s.sessions, 0),
    counts.whole.sessions,
  );
  console.log(
    `share   counts and delays of all: ${first.toFixed(0)} ms, ${(first / pass).toFixed(0)} times a pass; after one more message ${again.toFixed(0)} ms`,
  );
  return met;
};
