/** The matrix and the logbook: what they show of a few messages, and that their parts add up. */
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { identifiersLike, logbookOf, personOfIdentifier } from '../../../src/core/arrival/logbook';
import { arrivalMatrix } from '../../../src/core/arrival/matrix';
import { resolvePersons } from '../../../src/core/identity/persons';
import { Watch } from '../../../src/core/plan/watch';
import { create, deepFreeze, event, planWith } from '../../build/plan';
import { RULES, tableOf } from '../../build/messages';

const DAY = 1440;
const MINUTE_MS = 60_000;
const sent = (sourceId: string, build: 'built' | 'proposed' = 'built') => ({ sourceId, required: true, build });
const plan = deepFreeze(
  planWith(
    [
      create('source', 's', { name: 'Hall', kind: 'web' }),
      create('source', 'k', { name: 'Gate', kind: 'kiosk' }),
      event('e', { name: 'E', sources: [sent('s'), sent('k')], order: 1 }),
      event('o', { name: 'Opened', sources: [sent('s', 'proposed')], order: 2 }),
    ],
    { timeZone: 'UTC' },
  ),
);
const statesOf = (rows: Parameters<typeof tableOf>[0], days: number, watchedSince = 0) =>
  arrivalMatrix(plan, tableOf(rows), days * DAY * MINUTE_MS, Watch.of(plan, watchedSince * DAY * MINUTE_MS)).rows.map((r) => [
    r.eventName,
    r.sourceId,
    r.state,
  ]);

describe('matrix', () => {
  const daily = (to: number) => Array.from({ length: to }, (_, d) => ({ at: d * DAY + 5, ids: { user: 'm' } }));
  test('seen, silent, never or still too early, not built, not planned', () => {
    expect(statesOf([...daily(40), { at: DAY, name: 'Closed', ids: {} }], 39.5)).toEqual([
      ['E', 's', 'seen'],
      ['E', 'k', 'never'],
      ['Opened', 's', 'not built'],
      ['Closed', 's', 'not planned'],
    ]);
    // Of one a day three may well be missing; of eight a day none is no chance.
    expect(statesOf(daily(30), 33.5)[0]).toEqual(['E', 's', 'seen']);
    expect(
      statesOf(
        [1, 2, 3, 4, 5, 6, 7, 8].flatMap(() => daily(30)),
        33.5,
      )[0],
    ).toEqual(['E', 's', 'silent']);
    expect(statesOf(daily(30), 29.5, 29)[1]).toEqual(['E', 'k', 'too early']);
    expect(statesOf(daily(30), 29.5, 27.5)[1]).toEqual(['E', 'k', 'waiting']);
  });
  test('the days add up to the messages of the time shown', () => {
    const { days, rows } = arrivalMatrix(plan, tableOf(daily(40)), 39.5 * DAY * MINUTE_MS, Watch.of(plan, 0));
    expect(days).toHaveLength(28);
    expect(rows[0]).toMatchObject({ total: 40, counts: Array.from({ length: 28 }, () => 1), lastAt: (39 * DAY + 5) * MINUTE_MS });
  });
});

describe('logbook', () => {
  const table = tableOf([
    { at: 0, ids: { anonymous: 'a-1' }, userProperties: { hall: 'North' } },
    { at: 10, ids: { anonymous: 'a-1', user: 'm-1' }, page: '/gate' },
    { at: 100, ids: { user: 'm-1' }, sourceId: 'k', userProperties: { hall: 'South' } },
    { at: 50, ids: { user: 'm-2' } },
  ]);
  const persons = resolvePersons(table, { ...RULES, links: [['anonymous', 'user']] });

  test('one person under all identifiers, in order of time, with what was set and what it was before', () => {
    const person = personOfIdentifier(persons, 'anonymous', 'a-1');
    expect(personOfIdentifier(persons, 'user', 'm-1')).toBe(person);
    const book = logbookOf(plan, persons, person)!;
    expect(book).toMatchObject({ messages: 3, sessions: 2, inUseMs: 10 * MINUTE_MS, firstAt: 0, lastAt: 100 * MINUTE_MS });
    expect(book.entries.map((e) => [e.seq, e.begins, e.page, e.set])).toEqual([
      [1, true, '', [{ name: 'hall', value: 'North', before: undefined }]],
      [2, false, '/gate', []],
      [3, true, '', [{ name: 'hall', value: 'South', before: 'North' }]],
    ]);
    expect(book.userProperties).toEqual([{ name: 'hall', value: 'South' }]);
    expect(book.links).toMatchObject([{ firstAt: 10 * MINUTE_MS }]);
    expect(book.identifiers).toEqual([
      { kind: 'anonymous', value: 'a-1', messages: 2 },
      { kind: 'user', value: 'm-1', messages: 2 },
    ]);
  });
  test('nobody has no logbook; a part of an identifier finds it, a beginning first', () => {
    expect(personOfIdentifier(persons, 'user', 'm-9')).toBe(-1);
    expect(logbookOf(plan, persons, 99)).toBeUndefined();
    expect(identifiersLike(table, 'M-').map((i) => i.value)).toEqual(['m-1', 'm-2']);
    expect(identifiersLike(table, '-1').map((i) => i.value)).toEqual(['a-1', 'm-1']);
    expect(identifiersLike(table, ' ')).toEqual([]);
  });
  test('every message of somebody stands in exactly one logbook, and its parts add up', () => {
    const rows = fc.array(
      fc.record({
        at: fc.integer({ min: 0, max: 5000 }),
        sourceId: fc.constantFrom('s', 'k'),
        ids: fc.record(
          { user: fc.constantFrom('m-1', 'm-2', 'm-3'), anonymous: fc.constantFrom('a-1', 'a-2', 'a-3') },
          { requiredKeys: [] },
        ),
      }),
      { maxLength: 40 },
    );
    fc.assert(
      fc.property(rows, (list) => {
        const t = tableOf(list);
        const p = resolvePersons(t, RULES);
        const books = Array.from({ length: p.count }, (_, person) => logbookOf(plan, p, person)).filter((b) => b !== undefined);
        const seqs = books.flatMap((b) => b.entries.map((e) => e.seq));
        expect(seqs.sort((x, y) => x - y)).toEqual([...p.personOfMessage].flatMap((x, row) => (x < 0 ? [] : [row + 1])));
        for (const b of books) {
          expect(b.bySource.reduce((n, s) => n + s.messages, 0)).toBe(b.messages);
          expect(b.entries.filter((e) => e.begins)).toHaveLength(b.sessions);
          expect(b.inUseMs).toBeLessThanOrEqual((b.lastAt - b.firstAt) * b.bySource.length);
        }
      }),
      { numRuns: 300, seed: 21 },
    );
  });
});
