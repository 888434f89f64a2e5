import { describe, expect, it } from 'vitest';
import { doneSteps, FIRST_STEPS, nextStep } from '../../../src/core/plan/first-steps';
import { blank } from '../../../src/core/plan/defaults';
import { event, planWith, question } from '../../build/plan';

const source = (id: string) => ({ op: 'create', kind: 'source', id, body: blank('source', { name: id }) }) as const;

const nothing = { plan: planWith([]), keys: 0, received: 0, published: false };
const next = (p: Parameters<typeof doneSteps>[0]) => nextStep(doneSteps(p))?.id;

describe('the first steps', () => {
  it('begin with a question, and go on one by one', () => {
    expect(next(nothing)).toBe('question');
    const asked = planWith([question('q', { text: 'How many come back?' })]);
    expect(next({ ...nothing, plan: asked })).toBe('event');
    const withEvent = planWith([question('q', { text: 'How many come back?' }), event('e', { name: 'Opened' })]);
    expect(next({ ...nothing, plan: withEvent })).toBe('source');
    const withSource = planWith([question('q', { text: 'How many come back?' }), event('e', { name: 'Opened' }), source('web')]);
    expect(next({ ...nothing, plan: withSource })).toBe('key');
    expect(next({ ...nothing, plan: withSource, keys: 1 })).toBe('message');
    expect(next({ ...nothing, plan: withSource, keys: 1, received: 1 })).toBe('verdict');
    expect(next({ ...nothing, plan: withSource, keys: 0, received: 1, published: true })).toBeUndefined();
  });

  it('do not count a question without words, nor a retired event', () => {
    const plan = planWith([question('q', { text: '  ' }), event('e', { name: 'Opened', retired: true })]);
    expect([...doneSteps({ ...nothing, plan })]).toEqual([]);
  });

  it('may be done in another order: what is done stays done', () => {
    const done = doneSteps({ ...nothing, received: 3 });
    expect([...done]).toEqual(['key', 'message']);
    expect(nextStep(done)?.id).toBe('question');
  });

  it('are each there once', () => {
    expect(new Set(FIRST_STEPS.map((s) => s.id)).size).toBe(FIRST_STEPS.length);
  });
});
