/** Signals over the demo's histories: with nothing planted no question is stopped, and each planted fault lowers the questions that it touches, by the
 *  gate that it belongs to, and no other.
 */
import { describe, expect, test } from 'vitest';
import { judgeHistory } from '../../src/core/arrival/history';
import { clearanceOf } from '../../src/core/clearance/clearance';
import { clearanceContext } from '../../src/core/clearance/context';
import { DEFAULT_SETTINGS } from '../../src/core/plan/defaults';
import { applyEdits } from '../../src/core/plan/edit';
import { emptyPlan, entries } from '../../src/core/plan/plan';
import { Watch } from '../../src/core/plan/watch';
import { rawNeeds } from '../../src/core/definitions/planned';
import { needsOf } from '../../src/core/questions/coverage';
import type { FaultId } from '../../src/demo/faults';
import { generate } from '../../src/demo/generator';
import { publishedEdits } from '../../src/demo/plan';
import { draws } from '../build/draws';

const NOW = Date.parse('2026-11-23T12:00:00Z');
const SINCE = NOW - 57 * 86_400_000;
const VISITORS = 2500;
const applied = applyEdits(emptyPlan(DEFAULT_SETTINGS), publishedEdits.filter((e) => e.kind !== 'settings')); // prettier-ignore
if (!applied.ok) throw new Error(JSON.stringify(applied.problem));
const { plan } = applied;

/** Gates that are not clear, as `question gate signal`. */
const lowered = (seed: number, faults: readonly FaultId[]): string[] => {
  const sent = generate({ seed, now: NOW, visitors: VISITORS, faults: new Set(faults) });
  const h = judgeHistory(plan, sent.map((g) => ({ sourceId: g.sourceId, receivedAt: g.receivedAt, value: g.message })), NOW, SINCE); // prettier-ignore
  const context = clearanceContext({
    published: { plan, number: 1, publishedAt: SINCE, watch: Watch.of(plan, SINCE) },
    persons: h.persons,
    table: h.table,
    groups: h.groups,
    now: NOW,
  });
  return entries(plan, 'question')
    .filter(([, q]) => q.formula)
    .flatMap(([id, q]) => clearanceOf(q, context).gates.filter((g) => g.signal !== 'clear').map((g) => `${id} ${g.gate} ${g.signal}`)); // prettier-ignore
};
/** Without those that say that there are too few messages to know. */
const byFault = (all: readonly string[], sound: readonly string[]): string[] => all.filter((x) => !sound.includes(x));

describe('with nothing planted', () => {
  test.each([1, 5].slice(0, draws(1, 2)))('seed %i: no stop, and a caution only where there are too few to say', (seed) => {
    const all = lowered(seed, []);
    expect(all.filter((x) => x.endsWith(' stop') || x.endsWith(' open'))).toEqual([]);
    expect(all.filter((x) => !/ (settled|conforming) caution$/.test(x))).toEqual([]);
  });
});

const sound = lowered(1, []);
const questionsOf = (all: readonly string[], gate: string): string[] => [...new Set(all.flatMap((x) => (x.split(' ')[1] === gate ? [x.split(' ')[0]!] : [])))].sort(); // prettier-ignore

test.each<[FaultId, string, readonly string[]]>(
  [
    ['wrong-case-twin', 'conforming', ['searches-to-views', 'viewers-to-borrowers']],
    ['press-not-outcome', 'conforming', ['reservations-to-loans']],
    ['unlinked-join', 'identified', ['joining']],
    ['bound-twice', 'complete', ['searches-to-views', 'searches-without-result']],
    ['signed-in-on-view', 'conforming', ['monthly-members', 'searches-to-views']],
    // What no question uses lowers none: a deposit sent as text, late fees that fall silent, a category off the list.
    ['text-deposit', 'conforming', []],
    ['silent-fees', 'complete', []],
    ['unlisted-category', 'conforming', []],
  ].filter((_, i) => i % draws(2, 1) === 0) as [FaultId, string, readonly string[]][],
)('%s lowers by %s just the questions that it touches', (fault, gate, wanted) => {
  const all = byFault(lowered(1, [fault]), sound);
  expect([...new Set(all.map((x) => x.split(' ')[1]))]).toEqual(wanted.length > 0 ? [gate] : []);
  expect(questionsOf(all, gate)).toEqual(wanted);
});

test('a clock that runs ahead makes the questions over its source’s events late, and none of the others', () => {
  const late = questionsOf(byFault(lowered(1, ['kiosk-clock']), sound), 'fresh');
  for (const id of late) expect(JSON.stringify(plan.question[id]!.formula)).toMatch(/Loan Started|Signed In/);
  expect(late.length).toBeGreaterThan(4);
});

/** Names of events of which anything is sent otherwise with a fault. */
let before: ReadonlySet<string> | undefined;
const changedBy = (fault: FaultId): ReadonlySet<string> => {
  const said = (faults: readonly FaultId[]): string[] =>
    generate({ seed: 1, now: NOW, visitors: VISITORS, faults: new Set(faults) }).map((g) => JSON.stringify([g.sourceId, g.message]));
  before ??= new Set(said([]));
  return new Set(
    said([fault]).flatMap((m) => (before!.has(m) ? [] : [(JSON.parse(m) as [string, { name?: string }])[1].name ?? 'identify'])),
  );
};

// These leave every other message as it was, so that it is known which events they touch.
test.each<[FaultId, string]>(
  [
    // No question asks for what these spoil.
    ['hours-for-days', ''],
    ['shared-kiosk', 'identified'],
    ['template-user-id', 'identified'],
    ['swapped-user-property', ''],
    ['email-user-id', ''],
    ['button-reworded', ''],
  ].filter((_, i) => i % draws(3, 1) === 0) as [FaultId, string][],
)('%s lowers no question that asks for none of the events whose messages it changes', (fault, gate) => {
  const changed = changedBy(fault);
  const all = byFault(lowered(1, [fault]), sound);
  for (const x of all) {
    const [id = ''] = x.split(' ');
    const events = needsOf(plan.question[id]!).flatMap((n) => [n.eventName, ...rawNeeds(plan, n.eventName).map((r) => r.eventName)]);
    // Who people are hangs on the calls that identify them, too.
    expect([x, events.some((e) => changed.has(e)) || (changed.has('identify') && x.includes(' identified '))]).toEqual([x, true]);
  }
  if (gate === '') expect(all).toEqual([]);
  else expect(all.some((x) => x.split(' ')[1] === gate)).toBe(true);
});
