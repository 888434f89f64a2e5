/** The order in which findings are read: by what they endanger, each criterion where those before it are alike. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { byDanger } from '../../../src/core/arrival/danger';
import type { FindingGroup } from '../../../src/core/arrival/finding-group';
import { event, planWith, question } from '../../build/plan';

const asks = (id: string, eventName: string) =>
  question(id, { text: id, formula: { type: 'active persons', events: [{ eventName, where: [] }], period: 'day' } });
const plan = planWith([event('a', { name: 'A' }), event('b', { name: 'B' }), event('c', { name: 'C' }), asks('q1', 'A'), asks('q2', 'A'), asks('q3', 'B')]); // prettier-ignore
const SERVED: Readonly<Record<string, readonly string[]>> = { A: ['q1', 'q2'], B: ['q3'], C: [] };
const RANK = ['stop', 'caution', 'note'];

const group = (more: Partial<FindingGroup>): FindingGroup => ({ key: 'k', code: 'x', severity: 'caution', eventName: 'A', touches: [], sourceId: 's', releases: [], count: 1, outOf: 10, firstAt: 0, lastAt: 0, samples: [], title: '', why: '', sentence: '', cause: '', fix: '', fixer: 'source', expected: '', received: '', ...more }) as FindingGroup; // prettier-ignore

test.each<[string, Partial<FindingGroup>, Partial<FindingGroup>]>([
  ['the graver severity, whatever else', { severity: 'stop', touches: [], count: 1 }, { severity: 'caution', touches: ['A'], count: 9 }],
  ['more questions touched, whatever the share', { touches: ['A'], count: 1 }, { touches: ['B'], count: 9 }],
  ['a question counts once, however many of its events are touched', { touches: ['A', 'B'] }, { touches: ['A', 'A', 'C'], count: 10 }],
  ['the greater share of the messages, whatever the number', { count: 5, outOf: 10 }, { count: 40, outOf: 100 }],
  ['the greater number of the same share', { count: 50, outOf: 100 }, { count: 5, outOf: 10 }],
  ['what is a part of nothing counts as all', { count: 0, outOf: 0 }, { count: 9, outOf: 10 }],
])('first comes %s', (_, first, second) => {
  const [a, b] = [group({ key: 'first', ...first }), group({ key: 'second', ...second })];
  for (const given of [[a, b], [b, a]]) expect(byDanger(plan, given).map((g) => g.key)).toEqual(['first', 'second']); // prettier-ignore
});

test('the order is that of the tuple of all four, at random; nothing given is changed', () => {
  const drawn = fc.record({
    severity: fc.constantFrom('stop', 'caution', 'note'),
    touches: fc.subarray(['A', 'B', 'C']),
    count: fc.nat(4),
    outOf: fc.nat(4),
  });
  fc.assert(
    fc.property(fc.array(drawn, { maxLength: 8 }), (list) => {
      const groups = Object.freeze(list.map((g, i) => Object.freeze(group({ key: String(i), ...(g as Partial<FindingGroup>) }))));
      const said = (g: FindingGroup): number[] => [RANK.indexOf(g.severity), -new Set(g.touches.flatMap((t) => SERVED[t]!)).size, -(g.outOf > 0 ? g.count / g.outOf : 1), -g.count]; // prettier-ignore
      const ordered = byDanger(plan, groups).map(said);
      for (let i = 1; i < ordered.length; i++) {
        const at = ordered[i]!.findIndex((x, k) => x !== ordered[i - 1]![k]);
        if (at >= 0) expect(ordered[i]![at]).toBeGreaterThan(ordered[i - 1]![at]!);
      }
      expect(ordered).toHaveLength(list.length);
    }),
  );
});
