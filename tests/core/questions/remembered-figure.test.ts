/** A figure that is remembered is the figure that would be worked out, whatever came since. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { LivingPersons } from '../../../src/core/identity/living-persons';
import { resolvePersons } from '../../../src/core/identity/persons';
import { figureOf } from '../../../src/core/questions/compute-figure';
import type { Formula } from '../../../src/core/questions/formula';
import { rememberedFigure } from '../../../src/core/questions/remembered-figure';
import { MessageTable } from '../../../src/core/table/message-table';
import { RULES } from '../../build/messages';
import { draws } from '../../build/draws';

const MINUTE = 60_000;
const on = (eventName: string, where: object[] = []) => ({ eventName, where }) as never;
const leavingOut = (who: 'sessions' | 'persons') => [{ mode: 'leaving out', who, did: on('Left') }];
const FORMULAS = [
  { type: 'active persons', events: [on('Seen'), on('Bought')], period: 'day' },
  { type: 'active persons', events: [on('Seen', [{ of: 'user property', property: 'tier', is: 'gold' }])], period: 'week' },
  { type: 'conversion', steps: [on('Seen'), on('Bought')], windowMs: 60 * MINUTE, overDays: 3 },
  { type: 'conversion', steps: [on('Seen'), on('Bought')], windowMs: 60 * MINUTE, overDays: 3, filters: leavingOut('sessions') },
  {
    type: 'average per person',
    event: on('Bought'),
    per: 'active persons',
    active: [on('Seen')],
    period: 'day',
    filters: leavingOut('persons'),
  },
  { type: 'total of a property', event: on('Bought'), property: 'price', period: 'day' },
  { type: 'top values', event: on('Seen', [{ property: 'price', is: 1 }]), property: 'price', measure: 'persons', overDays: 3 },
  { type: 'share who also did', first: on('Seen'), also: on('Left'), overDays: 3 },
] as unknown as readonly Formula[];

const message = fc.record({
  step: fc.oneof({ weight: 8, arbitrary: fc.nat(50 * MINUTE) }, { weight: 1, arbitrary: fc.integer({ min: -300 * MINUTE, max: 0 }) }),
  name: fc.constantFrom('Seen', 'Seen', 'Bought', 'Left', 'Other', ''),
  sourceId: fc.constantFrom('s', 't'),
  ids: fc.dictionary(fc.constantFrom('anonymous', 'user'), fc.constantFrom('1', '2', '3'), { maxKeys: 2 }),
  price: fc.constantFrom(1, 2, undefined),
  tier: fc.constantFrom('gold', 'tin', undefined, undefined),
});

test('message by message, as the clock goes on', () => {
  let reused = 0;
  fc.assert(
    fc.property(fc.array(message, { maxLength: 30 }), fc.array(fc.nat(5), { maxLength: 8 }), (drawn, pieces) => {
      const table = new MessageTable();
      const living = new LivingPersons(table, RULES);
      let at = 1000 * MINUTE;
      let now = at;
      const before = new Map<Formula, unknown>();
      for (const n of [...pieces, drawn.length]) {
        for (let i = 0; i < n && table.length < drawn.length; i++) {
          const m = drawn[table.length]!;
          at = Math.max(0, at + m.step);
          // Nothing is dated after it is asked about: what is comes to be counted within a minute.
          now = Math.max(now, at);
          table.append({
            seq: table.length + 1,
            kind: m.name === '' ? 'identify' : 'event',
            name: m.name,
            sourceId: m.sourceId,
            release: '',
            occurredAt: at,
            ids: m.ids,
            properties: m.price === undefined ? {} : { price: m.price },
            ...(m.tier === undefined ? {} : { userProperties: { tier: m.tier } }),
          });
        }
        // Whole minutes apart nothing stands.
        now += table.length % 2 === 0 ? 0 : MINUTE;
        living.follow();
        const settings = { timeZone: 'UTC', weekStartsOn: 1 as const, sessionGapMinutes: 30, clockToleranceSeconds: 2 };
        for (const f of FORMULAS) {
          const got = rememberedFigure(f, { people: living.persons(), settings, now });
          expect(got).toEqual(figureOf(f, { people: resolvePersons(table, RULES), settings, now }));
          if (before.get(f) === got) reused++;
          before.set(f, got);
        }
      }
    }),
    { numRuns: draws(150, 400) },
  );
  expect(reused).toBeGreaterThan(1000);
});
