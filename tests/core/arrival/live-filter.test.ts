import fc from 'fast-check';
import { expect, test } from 'vitest';
import { environmentOf, environmentsSeen, liveShown } from '../../../src/core/arrival/live-filter';
import { MARK_CHOICES, type Traffic } from '../../../src/core/table/traffic';
import { blank } from '../../../src/core/plan/defaults';
import { planWith } from '../../build/plan';

const plan = {
  ...planWith([]),
  source: {
    web: blank('source', { name: 'Web', environment: 'production' }),
    app: blank('source', { name: 'App', environment: 'rehearsal' }),
  },
};

const message = fc.record({
  sourceId: fc.constantFrom('web', 'app', 'unknown'),
  release: fc.constantFrom('1', '2.Beta', ''),
  name: fc.constantFrom('Tool Viewed', 'Signed In'),
  body: fc.record(
    {
      environment: fc.constantFrom('production', 'test'),
      ids: fc.constantFrom({ user: 'm-1' }, { anonymous: 'a-1' }, { anonymous: 'a-1', user: 'm-2' }, {}),
      marks: fc.constantFrom(['internal'], [], ['no such mark']),
      consent: fc.constantFrom('granted', 'denied'),
    },
    { requiredKeys: [] },
  ),
});
const filter = fc.record({
  traffic: fc.record({
    environment: fc.constantFrom('', 'production', 'rehearsal', 'test', 'nowhere'),
    marks: fc.constantFrom(...MARK_CHOICES),
    consent: fc.constantFrom('', 'granted', 'denied'),
  }) as fc.Arbitrary<Traffic>,
  mine: fc.constantFrom(undefined, new Set(['m-1']), new Set(['a-1', 'm-2'])),
  text: fc.constantFrom('', 'tool', 'SIGNED', 'internal', '2.b', 'm-2', 'zzz'),
});

test('what is shown, what is of other traffic, and the rest are all there is; nothing is put in another order', () => {
  fc.assert(
    fc.property(fc.array(message), filter, (all, f) => {
      const { shown, elsewhere } = liveShown(plan, all, { ...f, userKind: 'user', titleOf: (m) => m.name });
      const own = (m: (typeof all)[number]): string =>
        m.body.environment ?? ({ web: 'production', app: 'rehearsal' } as Record<string, string>)[m.sourceId] ?? '';
      expect(all.map((m) => environmentOf(plan, m))).toEqual(all.map(own));
      const t = f.traffic;
      const isOf = (m: (typeof all)[number]): boolean => {
        const isMarked = ((m.body.marks as readonly string[] | undefined) ?? []).includes('internal');
        return (
          (t.environment === '' || (own(m) || 'production') === t.environment) &&
          (t.marks === 'marked too' || isMarked === (t.marks === 'marked only')) &&
          (t.consent === '' || m.body.consent === t.consent)
        );
      };
      expect(elsewhere).toBe(all.filter((m) => !isOf(m)).length);
      const passes = (m: (typeof all)[number]): boolean => {
        if (!isOf(m)) return false;
        const ids = Object.values(m.body.ids ?? {}) as string[];
        const user = (m.body.ids as { user?: string } | undefined)?.user;
        const { mine } = f;
        if (mine && !(ids.some((v) => mine.has(v)) && (user === undefined || mine.has(user)))) return false;
        const parts = [m.name, m.sourceId, m.release, ...ids, ...(m.body.marks ?? []), m.body.environment ?? ''];
        return f.text === '' || parts.some((p) => p.toLowerCase().includes(f.text.toLowerCase()));
      };
      expect(shown).toEqual(all.filter(passes));
    }),
  );
});

test('environments that can be chosen: those of the plan first, then those that arrived, each once', () => {
  const all = [
    { sourceId: 'web', release: '', body: { environment: 'test' } },
    { sourceId: 'unknown', release: '', body: {} },
    { sourceId: 'web', release: '', body: {} },
  ];
  expect(environmentsSeen(plan, all)).toEqual(['production', 'rehearsal', 'test']);
  expect(environmentsSeen({ ...plan, source: {} }, [])).toEqual([]);
});
