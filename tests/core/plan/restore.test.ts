/** An earlier state comes back whole or in part, and whose work goes with it is said. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { applyEdits, invertAll } from '../../../src/core/plan/edit';
import { broughtBack, changeKey, restoring, workThatGoes } from '../../../src/core/plan/restore';
import { plan as arbitraryPlan } from '../../build/arbitrary-plan';

test('whole: the plan is the earlier one, and undone the present one; in part: what is left out stays', () => {
  fc.assert(
    fc.property(arbitraryPlan, arbitraryPlan, fc.func(fc.boolean()), (now, earlier, isWanted) => {
      const edits = restoring(now, earlier);
      const whole = applyEdits(now, edits);
      expect(whole.ok && broughtBack(whole.plan, earlier)).toEqual([]);
      expect(whole.ok && applyEdits(whole.plan, invertAll(edits))).toEqual({ ok: true, plan: now });
      const changes = broughtBack(now, earlier);
      const wanted = new Set(changes.map(changeKey).filter((k) => isWanted(k)));
      const part = applyEdits(now, restoring(now, earlier, wanted));
      expect(part.ok && broughtBack(part.plan, earlier).map(changeKey)).toEqual(changes.map(changeKey).filter((k) => !wanted.has(k)));
      expect(part.ok && new Set(broughtBack(now, part.plan).map(changeKey))).toEqual(wanted);
    }),
    { seed: 3, numRuns: 60 },
  );
});

test('whose work goes: changes since the moment, on what goes', () => {
  const edit = (id: string) => ({ op: 'set', kind: 'event', id, field: 'trigger', before: '', after: 'x' }) as const;
  const log = [
    { seq: 1, at: 10, author: 'Ines', edits: [edit('a')] },
    { seq: 2, at: 20, author: 'Jo', edits: [edit('a'), edit('b')] },
    { seq: 3, at: 21, author: 'Ines', edits: [edit('b')] },
    { seq: 4, at: 22, author: 'Jo', edits: [edit('c')] },
    { seq: 5, at: 23, author: 'Jo', edits: [edit('b')] },
  ].reverse();
  expect(workThatGoes(log, 10, new Set(['event a', 'event b'])).by).toEqual([{ author: 'Jo', changes: 2 }, { author: 'Ines', changes: 1 }]); // prettier-ignore
  expect(workThatGoes(log, 0, new Set(['event a']))).toEqual({ by: [{ author: 'Ines', changes: 1 }, { author: 'Jo', changes: 1 }], isCut: false }); // prettier-ignore
  expect(workThatGoes(log, 30, new Set(['event a']))).toEqual({ by: [], isCut: false });
});

test('where the log does not reach back to the moment, it is said that there may be more', () => {
  const log = [{ seq: 90, at: 50, author: 'Jo', edits: [] }, { seq: 41, at: 20, author: 'Jo', edits: [] }]; // prettier-ignore
  expect(workThatGoes(log, 10, new Set(['event a']))).toEqual({ by: [], isCut: true });
  expect(workThatGoes(log, 20, new Set(['event a'])).isCut).toBe(false);
  expect(workThatGoes(log, 10, new Set()).isCut).toBe(false);
  expect(workThatGoes([], 10, new Set(['event a'])).isCut).toBe(false);
});
