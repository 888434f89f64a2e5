/** Signals of histories without a fault: how many of so many seeds show a question at stop, and how many cautions say that there are too few messages to
 *  know. Histories end at four times of the day.
 *  Asserted: every question with a formula is judged by all seven gates. Goal: none at stop.
 */
import assert from 'node:assert/strict';
import { judgeHistory } from '../src/core/arrival/history';
import { clearanceOf } from '../src/core/clearance/clearance';
import { clearanceContext } from '../src/core/clearance/context';
import { DEFAULT_SETTINGS } from '../src/core/plan/defaults';
import { applyEdits } from '../src/core/plan/edit';
import { emptyPlan, entries } from '../src/core/plan/plan';
import { Watch } from '../src/core/plan/watch';
import { DAY_MS, HOUR_MS } from '../src/core/time';
import { generate } from '../src/demo/generator';
import { publishedEdits } from '../src/demo/plan';
import { goal, size } from './measure';

const SEEDS = size(Number(process.env['SEEDS'] ?? 100), 1);
const VISITORS = 1500;
const BEGIN = Date.parse('2026-11-23T00:00:00Z');
const ENDS = [0, 7, 13, 19].map((h) => BEGIN + h * HOUR_MS);
const FIRST = 100;

export const benchSignals = (): Promise<boolean> => {
  const applied = applyEdits(
    emptyPlan(DEFAULT_SETTINGS),
    publishedEdits.filter((e) => e.kind !== 'settings'),
  );
  assert(applied.ok);
  const { plan } = applied;
  let [stopped, tooFew, otherwise, gates] = [0, 0, 0, 0];
  for (let i = 0; i < SEEDS; i++) {
    const now = ENDS[i % ENDS.length]!;
    const since = now - 57 * DAY_MS;
    const lines = generate({ seed: FIRST + i, now, visitors: VISITORS, faults: new Set() }).map((g) => ({ sourceId: g.sourceId, receivedAt: g.receivedAt, value: g.message })); // prettier-ignore
    const h = judgeHistory(plan, lines, now, since);
    const context = clearanceContext({
      published: { plan, number: 1, publishedAt: since, watch: Watch.of(plan, since) },
      persons: h.persons,
      table: h.table,
      groups: h.groups,
      now: now,
    });
    const all = entries(plan, 'question').flatMap(([, q]) => (q.formula ? clearanceOf(q, context).gates : []));
    assert(all.every((g) => g.signal !== 'open'));
    gates += all.length;
    if (all.some((g) => g.signal === 'stop')) stopped++;
    for (const g of all.filter((x) => x.signal === 'caution')) {
      if (g.gate === 'settled' || g.evidence.includes('Too few')) tooFew++;
      else otherwise++;
    }
  }
  console.log(
    `${gates.toLocaleString('en-GB')} gates: ${tooFew} cautions say that there are too few to know, ${otherwise} say anything else`,
  );
  return Promise.resolve(goal(`histories without a fault in which no question is at stop, of ${SEEDS}`, (SEEDS - stopped) / SEEDS, 1));
};
