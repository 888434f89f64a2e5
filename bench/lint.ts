/** All rules over a plan of 500 events and 3,000 properties after an edit, as the worker runs them; and the edit itself.
 *  Asserted first: what is found after a row of edits is what a plan that was never seen before gives.
 *  Reference in the same run: a structured clone of the plan.
 */
import assert from 'node:assert/strict';
import { deltaOf, withDelta } from '../src/core/lint/delta';
import { lintPlan, withoutFix, type ShownFinding } from '../src/core/lint/lint';
import { applyEdits, type Edit } from '../src/core/plan/edit';
import { editsBetween } from '../src/core/plan/diff';
import type { Plan } from '../src/core/plan/plan';
import { renameEvent } from '../src/core/plan/rename';
import { largePlan } from '../tests/build/large-plan';
import { goal, measure } from './measure';

const ROUNDS = 15;
const LIMIT_MS = 100;

const applied = (plan: Plan, edits: readonly Edit[]): Plan => {
  const r = applyEdits(plan, edits);
  assert(r.ok);
  return r.plan;
};
const set = (plan: Plan, field: 'trigger' | 'description', after: string): Edit => ({
  op: 'set',
  kind: 'event',
  id: 'e7',
  field,
  before: plan.event['e7']![field],
  after,
});

export const benchLint = async (): Promise<boolean> => {
  let plan = largePlan(500, 3000);
  lintPlan(plan);
  let n = 0;
  /** A name, a text and a property list change in turn. */
  const next = (): Edit[] => {
    n++;
    return n % 3 === 0
      ? renameEvent(plan, 'e7', `Badge Shown ${n}`, false)
      : [set(plan, n % 3 === 1 ? 'trigger' : 'description', `Written ${n}.`)];
  };
  for (let i = 0; i < 6; i++) {
    plan = applied(plan, next());
    lintPlan(plan);
  }
  assert.deepEqual(lintPlan(plan), lintPlan(structuredClone(plan)));
  let findings: readonly ShownFinding[] = lintPlan(plan).map(withoutFix);
  /** As the worker does it, with what goes between the threads cloned there. */
  const followed = (): void => {
    const now = lintPlan(applied(plan, next())).map(withoutFix);
    const back = withDelta(findings, structuredClone(deltaOf(findings, now)));
    assert.equal(back.length, now.length);
    findings = now;
  };
  const before0 = findings;
  followed();
  assert.deepEqual(withDelta(before0, deltaOf(before0, findings)), findings);
  console.log(`${Object.keys(plan.event).length} events, ${Object.keys(plan.property).length} properties, ${findings.length} findings`);
  let before = plan;
  const t = await measure(
    [
      {
        name: 'edit',
        run: () => {
          before = plan;
          plan = applied(plan, next());
        },
      },
      { name: 'edits between', run: () => assert(editsBetween(before, plan).length > 0) },
      { name: 'lint and its delta', run: followed },
      { name: 'clone of the plan', run: () => void structuredClone(plan) },
    ],
    ROUNDS,
  );
  const ms = (name: string): number => t.get(name)!;
  const whole = ms('edit') + ms('edits between') + ms('lint and its delta');
  for (const [name, time] of t) console.log(`        ${name}: ${time.toFixed(2)} ms`);
  console.log(
    `ratio   a lint after an edit, of the time to clone the plan: ${(ms('lint and its delta') / ms('clone of the plan')).toFixed(2)}`,
  );
  return goal(`from an edit to its findings, ${LIMIT_MS} ms over the time taken (${whole.toFixed(0)} ms)`, LIMIT_MS / whole, 1);
};
