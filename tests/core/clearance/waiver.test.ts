/** A gate that somebody answers for: what it counts as, and for how long; and thresholds of a question and of its workspace. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { worstOf } from '../../../src/core/clearance/clearance';
import { GATE_IDS, SIGNALS, type Gate } from '../../../src/core/clearance/gate';
import { GATES } from '../../../src/core/clearance/gates/index';
import { whyNotSigned } from '../../../src/core/clearance/sign-off-shown';
import { thresholdsOf } from '../../../src/core/clearance/thresholds';
import { canBeWaived, isInForce, underWaivers, type Waiver } from '../../../src/core/clearance/waiver';
import { signalOf } from '../../../src/core/clearance/weight';
import { parseEdit } from '../../../src/core/plan/document-schema';
import { applyEdits, setField } from '../../../src/core/plan/edit';
import { workspaceFields } from '../../../src/core/plan/fields/workspace';
import { settingsOf, type Plan } from '../../../src/core/plan/plan';
import { planWith, question } from '../../build/plan';

const waiver = (gate: Waiver['gate'], more: Partial<Waiver> = {}): Waiver => ({
  id: 1, questionId: 'q', gate, reason: 'The shop was closed.', author: 'Ana', at: 100, until: 200, endedAt: null, because: null, ...more,
}); // prettier-ignore
const gateOf = (gate: Gate['gate'], signal: Gate['signal']): Gate => ({ gate, signal, asks: '', evidence: `${gate} is ${signal}.` });

test('the list of gates is that of the registry', () => {
  expect(GATES.map((g) => g.id)).toEqual([...GATE_IDS]);
});

test('a gate at stop, or not judged, counts as a caution from its waiver to its end, to the millisecond, and not after it was taken back', () => {
  const stop = gateOf('complete', 'stop');
  const at = (now: number, w = waiver('complete')): string => underWaivers(stop, [w], now).signal;
  expect([99, 100, 199, 200].map((now) => at(now))).toEqual(['stop', 'caution', 'caution', 'stop']);
  expect(at(150, waiver('complete', { endedAt: 140 }))).toBe('stop');
  expect(at(150, waiver('fresh'))).toBe('stop');
  expect(underWaivers(gateOf('complete', 'open'), [waiver('complete')], 150)).toMatchObject({
    signal: 'caution',
    evidence: 'complete is open.',
    waived: { author: 'Ana', reason: 'The shop was closed.', from: 'open', until: 200 },
  });
  expect(isInForce(waiver('complete'), 99)).toBe(false);
});

test('whatever is waived: no gate gets better than a caution, none gets worse, and what nobody waived stays as it is', () => {
  const gates = fc.array(fc.constantFrom(...SIGNALS), { minLength: 7, maxLength: 7 });
  const waived = fc.subarray([...GATE_IDS]);
  fc.assert(
    fc.property(gates, waived, (signals, ids) => {
      const before = GATE_IDS.map((id, i) => gateOf(id, signals[i]!));
      const after = before.map((g) => underWaivers(g, ids.map((id) => waiver(id)), 150)); // prettier-ignore
      for (const [i, g] of after.entries()) {
        const b = before[i]!;
        const isWaived = ids.includes(b.gate) && (b.signal === 'stop' || b.signal === 'open');
        expect(g.signal).toBe(isWaived ? 'caution' : b.signal);
        expect(g.waived?.from).toBe(isWaived ? b.signal : undefined);
        // Waived once, it cannot be waived again on top.
        expect(canBeWaived(g)).toBe(!isWaived && (b.signal === 'stop' || b.signal === 'open'));
      }
      // A question is clear only where it was without any waiver.
      expect(worstOf(after) === 'clear').toBe(worstOf(before) === 'clear');
      // With every stop and open gate waived, nothing is in the way of a sign-off.
      const all = before.map((g) => underWaivers(g, GATE_IDS.map((id) => waiver(id)), 150)); // prettier-ignore
      expect(whyNotSigned({ gates: all })).toBeUndefined();
    }),
  );
});

const plan = planWith([question('own', { thresholds: { clear: 0.8, caution: 0.5, by: 'Ana', why: 'A trend is enough.' } }), question('usual', {})]); // prettier-ignore
const written = (p: Plan, id: string, text: string): Plan | string => {
  const w = workspaceFields.find((f) => f.key === 'value')!.write!(p, id, text, { newId: () => 'n', keepsFormer: () => false, now: 0 });
  if (typeof w === 'string') return w;
  const r = applyEdits(p, [...w]);
  return r.ok ? r.plan : 'refused';
};

test('a question without thresholds has those of its workspace; one with its own keeps them', () => {
  const at = (p: Plan, id: string) => thresholdsOf(p, p.question[id]!);
  expect(at(plan, 'usual')).toEqual({ clear: 0.98, caution: 0.9 });
  const next = written(plan, 'clearFromPercent', '95') as Plan;
  expect(at(next, 'usual')).toEqual({ clear: 0.95, caution: 0.9 });
  expect(at(next, 'own')).toMatchObject({ clear: 0.8, caution: 0.5 });
  // 96 % surely right: a caution under 98, clear under 95.
  expect([plan, next].map((p) => signalOf(0.96, at(p, 'usual')))).toEqual(['caution', 'clear']);
  // Cleared again, they are the workspace's.
  const cleared = applyEdits(next, [setField(next, 'question', 'own', 'thresholds', undefined)!]);
  expect(cleared.ok && at(cleared.plan, 'own')).toEqual({ clear: 0.95, caution: 0.9 });
});

test('caution begins at clear or below, and both between 0 and 100 %: said where it is written', () => {
  expect(written(plan, 'clearFromPercent', '80')).toBe('Caution begins at 90 %; clear begins there or above.');
  expect(written(plan, 'cautionFromPercent', '99')).toBe('Clear begins at 98 %; caution begins there or below.');
  for (const bad of ['101', '-1', '', 'most'])
    expect(written(plan, 'clearFromPercent', bad)).toContain('is not a number of % from 0 to 100');
  expect(settingsOf(written(plan, 'cautionFromPercent', '98') as Plan).cautionFromPercent).toBe(98);
  const edit = (thresholds: unknown) => parseEdit({ op: 'set', kind: 'question', id: 'usual', field: 'thresholds', after: thresholds });
  expect(edit({ clear: 0.9, caution: 0.8 }).ok).toBe(true);
  for (const bad of [{ clear: 1.2, caution: 0.8 }, { clear: 0.8, caution: 0.9 }, { clear: 0.8 }, { clear: -1, caution: -1 }])
    expect(edit(bad).ok).toBe(false);
});
