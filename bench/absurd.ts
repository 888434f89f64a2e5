/** A daily figure over five million messages of which a thousand are dated absurdly, against the same without them.
 *  Asserted first: both have the same points, and the absurd ones are counted as outside.
 */
import assert from 'node:assert/strict';
import { figureOf } from '../src/core/questions/compute-figure';
import type { FigureContext, FigureOf } from '../src/core/questions/figure';
import type { Formula } from '../src/core/questions/formula';
import { attributedTo } from '../src/core/table/following-persons';
import { MessageTable } from '../src/core/table/message-table';
import { seeded } from '../src/demo/random';
import { goal, measure, size } from './measure';

const MESSAGES = size(5_000_000, 40_000);
const ABSURD = size(1000, 50);
const PERSONS = size(300_000, 3000);
const DAYS = 56;
const DAY_MS = 86_400_000;
const NOW = Date.parse('2026-11-23T15:00:00Z');
const DATES = ['0001-01-01T00:00:00Z', '1970-01-01T00:00:00Z', '2019-05-05T00:00:00Z', '2061-07-04T00:00:00Z', '9999-12-31T23:59:59Z'].map(
  (t) => Date.parse(t),
);
const ROUNDS = 7;
const FORMULA: Formula = { type: 'active persons', events: [{ eventName: 'Crate Moved', where: [] }], period: 'day' };

const contextWith = (absurd: number): FigureContext => {
  const { next } = seeded(31);
  const table = new MessageTable();
  const personOfMessage = new Int32Array(MESSAGES + absurd);
  const every = absurd === 0 ? Infinity : Math.floor(MESSAGES / absurd);
  let row = 0;
  const add = (occurredAt: number, receivedAt: number, person: number): void => {
    personOfMessage[row] = person;
    table.append({
      seq: ++row,
      kind: 'event',
      name: 'Crate Moved',
      sourceId: 's',
      release: '',
      occurredAt,
      receivedAt,
      ids: {},
      properties: {},
    });
  };
  for (let i = 0; i < MESSAGES; i++) {
    const at = NOW - DAYS * DAY_MS + Math.floor((i / MESSAGES) * DAYS * DAY_MS);
    add(at, at + 500, Math.floor(next() ** 2 * PERSONS));
    if (absurd > 0 && i % every === 0) add(DATES[(i / every) % DATES.length]!, at, 0);
  }
  return {
    people: attributedTo(table, personOfMessage.subarray(0, row)),
    settings: { timeZone: 'Europe/London', weekStartsOn: 1, sessionGapMinutes: 30, clockToleranceSeconds: 2 },
    now: NOW,
  };
};

/** A figure as it is worked out when a message has just come: nothing is remembered for these persons. */
const fresh = (c: FigureContext): FigureOf<'active persons'> =>
  figureOf(FORMULA, { ...c, people: attributedTo(c.people.table, c.people.personOfMessage.subarray(0)) }) as FigureOf<'active persons'>;

export const benchAbsurd = async (): Promise<boolean> => {
  const [clean, absurd] = [contextWith(0), contextWith(ABSURD)];
  const [a, b] = [fresh(clean), fresh(absurd)];
  assert.deepEqual(b.points, a.points);
  assert.deepEqual(a.outside, { before: 0, after: 0 });
  assert.equal(b.outside.before + b.outside.after, ABSURD);
  assert.equal(b.messages, a.messages);
  const t = await measure(
    [
      { name: 'without', run: () => void fresh(clean) },
      { name: 'with', run: () => void fresh(absurd) },
    ],
    ROUNDS,
  );
  const [without, withThem] = [t.get('without')!, t.get('with')!];
  return goal(
    `1.1 over a daily figure of five million messages with ${ABSURD} absurd dates (${withThem.toFixed(0)} ms), in times of the same without (${without.toFixed(0)} ms)`,
    1.1 / (withThem / without),
    1,
  );
};
