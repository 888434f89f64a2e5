/** The checker of the sender's debug mode against the checks of the server. */
import { expect, test } from 'vitest';
import { checkerOf } from '../../src/cli/checker';
import { compileChecker } from '../../src/core/arrival/compile';
import { readMessage } from '../../src/core/arrival/message';
import { planJson } from '../../src/core/formats/plan-json';
import { planYaml } from '../../src/core/formats/plan-document';
import { contentHash } from '../../src/core/plan/content-hash';
import { FAULT_IDS } from '../../src/demo/faults';
import { generate } from '../../src/demo/generator';
import type { WireMessage } from '../../packages/sender/src/index';
import { demoPlan } from '../build/demo-plan';

test('it finds on each message what the server finds, whether the plan is given as a text or parsed', () => {
  const plan = demoPlan();
  const text = planJson(plan, 1, contentHash(plan));
  const check = checkerOf(text);
  const [parsed, yaml] = [checkerOf(JSON.parse(text)), checkerOf(planYaml(plan, 1, contentHash(plan)))];
  const own = compileChecker(plan);
  let found = 0;
  for (const { message } of generate({ now: Date.UTC(2026, 2, 1), visitors: 200, seed: 5, faults: new Set(FAULT_IDS) })) {
    const read = readMessage(message);
    const expected = read.ok ? own.check(read.message).map((f) => f.code) : ['rejected'];
    const wire = message as unknown as WireMessage;
    expect(check(wire).map((f) => f.code)).toEqual(expected);
    expect(parsed(wire)).toEqual(check(wire));
    expect(yaml(wire)).toEqual(check(wire));
    found += expected.length;
  }
  expect(found).toBeGreaterThan(100);
});

test('what is no message, or no plan, is said', () => {
  const plan = demoPlan();
  const check = checkerOf(planJson(plan, 1, contentHash(plan)));
  expect(check({ id: 'x', kind: 'event', name: 'Tool Viewed', time: 'now', ids: {} })).toEqual([
    { code: 'rejected', sentence: expect.stringContaining('`time`') as string, fix: '' },
  ]);
  expect(() => checkerOf({ a: 1 })).toThrow('fields format');
});
