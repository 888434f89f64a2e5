/** What is planted in the demo's history is found: by every hour of the day, with other seeds, and at a tenth of the strength. */
import { describe, expect, test } from 'vitest';
import { manyChecks } from '../../src/core/arrival/many/index';
import { messagesOfFinding } from '../../src/core/arrival/finding-group';
import { judgeHistory } from '../../src/core/arrival/history';
import { DEFAULT_SETTINGS } from '../../src/core/plan/defaults';
import { applyEdits } from '../../src/core/plan/edit';
import { emptyPlan } from '../../src/core/plan/plan';
import { FAULT_IDS, PLANTED, type FaultId } from '../../src/demo/faults';
import type { GeneratorOptions } from '../../src/demo/generated';
import { generate } from '../../src/demo/generator';
import { publishedEdits } from '../../src/demo/plan';
import { draws } from '../build/draws';

const applied = applyEdits({ ...emptyPlan(DEFAULT_SETTINGS), settings: {} }, publishedEdits);
if (!applied.ok) throw new Error('the demo plan does not apply');
const { plan } = applied;

const known = new Map<string, ReturnType<typeof judgeHistory>>();
const judged = (o: Partial<GeneratorOptions>): ReturnType<typeof judgeHistory> => {
  const key = JSON.stringify({ ...o, faults: o.faults && [...o.faults] });
  const h = known.get(key) ?? judgedAnew(o);
  known.set(key, h);
  return h;
};
const judgedAnew = (o: Partial<GeneratorOptions>) => {
  const now = o.now ?? Date.parse('2026-11-23T12:00:00Z');
  const messages = generate({ seed: 5, now, visitors: 4500, faults: new Set(FAULT_IDS), ...o });
  return judgeHistory(
    plan,
    messages.map((m) => ({ ...m, value: JSON.parse(JSON.stringify(m.message)) as unknown })),
    now,
    now - 57 * 86_400_000,
  );
};

/** The planted faults that no finding names, and what is found of severity stop or caution beyond them. */
const compared = (o: Partial<GeneratorOptions>) => {
  const { groups } = judged(o);
  for (const g of groups) expect([g.key, g.expected !== '' && g.received !== '' && g.fix !== '']).toEqual([g.key, true]);
  const explained = new Set<unknown>();
  const missed: FaultId[] = [];
  for (const { id, expect: e } of PLANTED) {
    if (e.by !== 'finding' || (o.faults && !o.faults.has(id))) continue;
    const about = groups.filter(
      (x) => x.sourceId === e.sourceId && (e.eventName === '' || x.touches.includes(e.eventName) || x.touches.length === 0),
    );
    const found = about.find((x) => x.code === e.code);
    if (!found || found.releases.some((r) => !e.releases.includes(r))) missed.push(id);
    for (const x of about) if (x === found || e.also?.includes(x.code)) explained.add(x);
  }
  const beyond = groups.filter((x) => x.severity !== 'note' && !explained.has(x)).map((x) => `${x.code} ${x.eventName} ${x.sourceId}`);
  return { missed, beyond };
};

const CLEAN = { missed: [], beyond: [] };
const NONE: ReadonlySet<FaultId> = new Set();

describe('in full strength', () => {
  test.each([9, 0, 18].slice(0, draws(1, 3)))('by a clock that stands at %i hours', (hour) => {
    expect(compared({ now: Date.parse('2026-11-24T00:48:00Z') + hour * 3_600_000 })).toEqual(CLEAN);
  });
  test.each([77, 4].slice(0, draws(1, 2)))('with seed %i', (seed) => {
    expect(compared({ seed })).toEqual(CLEAN);
    expect(compared({ seed, faults: NONE })).toEqual(CLEAN);
  });
});

/** At a tenth, 54 of a hundred who took the short form become known instead of 60: too little to be told from chance by what arrives. */
const TOO_FAINT: FaultId = 'unlinked-join';

test.each([77, 4].slice(0, draws(1, 2)))('at a tenth of the strength, with seed %i', (seed) => {
  const { missed, beyond } = compared({ seed, strength: 0.1, visitors: 8600 });
  expect({ missed: missed.filter((id) => id !== TOO_FAINT), beyond }).toEqual(CLEAN);
});

test('the newest two hundred messages of each finding can be looked at, and all are of its source', () => {
  const { groups, table } = judged({ seed: 77 });
  const overMany = new Set<string>(manyChecks.map((c) => c.id));
  const rowOf = new Map(Array.from({ length: table.length }, (_, row) => [table.seq.get(row), row]));
  let looked = 0;
  for (const g of groups) {
    const seqs = overMany.has(g.code) ? g.samples : messagesOfFinding(table, g.key);
    // Of what did not come there is no message, and of a day far off its weekday all are as good as any.
    if (['never-seen', 'silence', 'volume-change', 'no-user-id', 'sent-again', 'turned-away', 'definition-dropped'].includes(g.code))
      continue;
    looked++;
    expect([g.key, seqs.length]).toEqual([g.key, Math.min(200, g.count)]);
    for (const seq of seqs) expect([g.key, table.sources.values[table.source.get(rowOf.get(seq)!)]]).toEqual([g.key, g.sourceId]);
  }
  expect(looked).toBeGreaterThan(10);
});
