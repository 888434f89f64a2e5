/** Which messages another plan may judge otherwise: what is taken over is what judging it anew would find. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { compileChecker } from '../../../src/core/arrival/compile';
import type { Message } from '../../../src/core/arrival/message';
import { entries, type Plan } from '../../../src/core/plan/plan';
import { isRejudged, judgesAnew, rejudged } from '../../../src/core/scenario/rejudged';
import { plan as anyPlan } from '../../build/arbitrary-plan';
import { draws } from '../../build/draws';

type Kind = 'event' | 'property' | 'userProperty' | 'identifierKind' | 'source' | 'sharedSet' | 'settings' | 'question';
const KINDS: readonly Kind[] = ['event', 'property', 'userProperty', 'identifierKind', 'source', 'sharedSet', 'settings', 'question'];

/** Another plan: some of its tables, or single entities of them, taken from a third one. */
const changed = (a: Plan, b: Plan, kinds: readonly Kind[], one: boolean): Plan => {
  const next: Record<string, unknown> = { ...a };
  for (const kind of kinds) {
    const [first] = Object.entries(b[kind]);
    if (!one) next[kind] = b[kind];
    else if (first) next[kind] = { ...a[kind], [first[0]]: first[1] };
  }
  return next as unknown as Plan;
};

const value = fc.constantFrom<unknown>('x', '', 3, 3.5, true, null, ['x'], { x: 1 }, 'null', 'me@example.org', '2026-03-01T09:30:00Z');

test('a message that is not judged anew would be judged as before', () => {
  let [kept, differing] = [0, 0];
  fc.assert(
    fc.property(
      anyPlan,
      anyPlan,
      fc.uniqueArray(fc.constantFrom(...KINDS), { minLength: 1, maxLength: 3 }),
      fc.boolean(),
      fc.infiniteStream(fc.tuple(fc.nat(), fc.nat(), value, value, fc.constantFrom('event', 'event', 'event', 'view', 'interaction'))),
      (a, third, kinds, one, stream) => {
        const b = changed(a, third, kinds, one);
        const r = rejudged(a, b);
        const [before, after] = [compileChecker(a), compileChecker(b)];
        const events = [...entries(a, 'event'), ...entries(third, 'event')].flatMap(([, e]) => [e.name, ...e.formerNames, `${e.name}s`]);
        const names = [...entries(a, 'property'), ...entries(third, 'property')].map(([, p]) => p.name);
        const asked = (m: Parameters<typeof before.check>[0]): void => {
          const [x, y] = [before.check(m), after.check(m)].map((f) => JSON.stringify(f));
          if (x !== y) differing++;
          if (isRejudged(r, m.kind, m.name)) return;
          kept++;
          expect(y).toBe(x);
        };
        for (const [i, k, v, w, kind] of stream.take(12)) {
          const properties = Object.fromEntries([
            [names[k % Math.max(1, names.length)] ?? 'p', v],
            [names[(k + i) % Math.max(1, names.length)] ?? 'q', w],
          ]);
          asked({
            kind: kind as Message['kind'],
            name: events[i % Math.max(1, events.length)] ?? 'Nothing',
            ids: { anonymous: 'a1' },
            properties,
            userProperties: { [names[0] ?? 'u']: v },
          });
        }
      },
    ),
    { seed: 12, numRuns: draws(300, 1200) },
  );
  expect(kept).toBeGreaterThan(draws(250, 1000));
  expect(differing).toBeGreaterThan(draws(250, 1000));
});

test('what concerns no message judges none: questions, definitions, descriptions of persons’ rules', () => {
  fc.assert(
    fc.property(anyPlan, anyPlan, (a, b) => {
      const settings = { settings: { ...a.settings['settings']!, identity: { ...a.settings['settings']!.identity, linking: false } } };
      expect(judgesAnew(rejudged(a, { ...a, question: b.question, definition: b.definition, settings }))).toBe(false);
    }),
    { numRuns: draws(80, 200) },
  );
});
