/** What is new or vanished, against a plain reading of the definition, message by message. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { driftSince } from '../../../src/core/arrival/drift';
import { MessageTable } from '../../../src/core/table/message-table';

const HOUR_MS = 3_600_000;
const SINCE = Date.parse('2026-10-19T00:00:00Z');
/** Four whole weeks on either side: each hour of the week has the same weight. */
const SIDE_MS = 28 * 24 * HOUR_MS;
const [FROM, NOW] = [SINCE - SIDE_MS, SINCE + SIDE_MS];

interface M {
  readonly at: number;
  readonly name: string;
  readonly source: string;
  readonly value: string | number | boolean | undefined;
  readonly release: string;
}

const typeOf = (v: M['value']): string => (typeof v === 'string' ? 'text' : typeof v);

/** The same by filtering all messages for each question. */
const plainly = (all: readonly M[]): string[] => {
  const within = all.filter((m) => m.at >= FROM && m.at <= NOW);
  const out: string[] = [];
  const sides = (list: readonly M[]) => ({ before: list.filter((m) => m.at < SINCE), after: list.filter((m) => m.at >= SINCE) });
  const judge = (list: readonly M[], base: readonly M[], about: string): void => {
    const [s, b] = [sides(list), sides(base)];
    const isNew = s.before.length === 0 && s.after.length > 0 && (s.after.length / b.after.length) * b.before.length >= 10;
    const isGone = s.after.length === 0 && s.before.length > 0 && (s.before.length / b.before.length) * b.after.length >= 10;
    if (!isNew && !isGone) return;
    if ((isNew ? s.after : s.before).length < 10) return;
    const side = isNew ? s.after : s.before;
    const at = isNew ? Math.min(...side.map((m) => m.at)) : Math.max(...side.map((m) => m.at));
    out.push(`${about} ${isNew ? 'new' : 'vanished'} ${side.length} ${at} ${side.find((m) => m.at === at)!.release}`);
  };
  const distinct = <T>(list: readonly T[]): T[] => [...new Set(list)];
  for (const name of distinct(within.map((m) => m.name)))
    for (const source of distinct(within.filter((m) => m.name === name).map((m) => m.source))) {
      const own = within.filter((m) => m.name === name && m.source === source);
      judge(own, within.filter((m) => m.source === source), `event ${name} ${source}`); // prettier-ignore
      if (sides(own).before.length === 0 || sides(own).after.length === 0) continue;
      const having = own.filter((m) => m.value !== undefined);
      if (having.length === 0) continue;
      judge(having, own, `property ${name} ${source}`);
      if (sides(having).before.length === 0 || sides(having).after.length === 0) continue;
      const types = distinct(having.map((m) => typeOf(m.value)));
      for (const t of types) judge(having.filter((m) => typeOf(m.value) === t), having, `type ${name} ${source} ${t}`); // prettier-ignore
      const values = distinct(having.map((m) => m.value));
      if (values.length > 60) continue;
      for (const v of values) {
        const same = sides(having.filter((m) => typeOf(m.value) === typeOf(v)));
        if (same.before.length > 0 && same.after.length > 0) judge(having.filter((m) => m.value === v), having, `value ${name} ${source} ${String(v)}`); // prettier-ignore
      }
    }
  return out.sort();
};

const message = fc.record({
  at: fc.integer({ min: -30 * 24, max: 30 * 24 }).map((h) => SINCE + h * HOUR_MS),
  name: fc.constantFrom('Door Opened', 'Door Shut', 'Bell Rung'),
  source: fc.constantFrom('hall', 'yard'),
  value: fc.oneof(fc.constantFrom('oak', 'ash', 1, 2, true, undefined), fc.integer({ min: 0, max: 90 })),
  release: fc.constantFrom('1', '2'),
});

/** Some are sent on one side alone, so that there is something to find. */
const oneSided = (all: readonly M[], which: readonly number[]): M[] =>
  all.map((m, i) => {
    const w = which[i % which.length]!;
    const early = { ...m, at: m.at >= SINCE ? 2 * SINCE - m.at - HOUR_MS : m.at };
    const late = { ...m, at: m.at < SINCE ? 2 * SINCE - m.at : m.at };
    if (w === 1 && m.name === 'Bell Rung') return late;
    if (w === 2 && m.value === 'oak') return early;
    if (w === 3 && typeof m.value === 'number') return late;
    return m;
  });

test('few values and many, of all types, on either side', () => {
  let found = 0;
  fc.assert(
    fc.property(
      fc.array(message, { minLength: 150, maxLength: 500 }),
      fc.array(fc.integer({ min: 0, max: 3 }), { minLength: 1, maxLength: 1 }),
      fc.boolean(),
      fc.integer({ min: 40, max: 400 }),
      (drawn, which, few, every) => {
        const all = oneSided(few ? drawn.map((m) => ({ ...m, value: typeof m.value === 'number' ? m.value % 5 : m.value })) : drawn, which);
        const table = new MessageTable();
        const look = (): string[] => {
          const got = driftSince(table, FROM, SINCE, NOW)
            .changes.map((c) =>
              [c.what, c.eventName, c.sourceId, ...(c.value === '' ? [] : [c.value]), c.change, c.messages, c.at, c.release].join(' '),
            )
            .sort();
          expect(got).toEqual(plainly(all.slice(0, table.length)));
          return got;
        };
        all.forEach((m, i) => {
          // Looked at now and then while it comes.
          if (i % every === 0) look();
          table.append({
            seq: i + 1,
            kind: 'event',
            name: m.name,
            sourceId: m.source,
            release: m.release,
            occurredAt: m.at,
            // Some by clocks that are ahead; nothing is received after it is looked at.
            receivedAt: Math.min(NOW, m.at + (i % 5 === 0 ? -HOUR_MS : 1000)),
            ids: {},
            properties: m.value === undefined ? {} : { wood: m.value },
          });
        });
        found += look().length;
      },
    ),
    { seed: 41, numRuns: 150 },
  );
  // It had something to say.
  expect(found).toBeGreaterThan(50);
});
