import fc from 'fast-check';
import { expect, test } from 'vitest';
import { LivingPersons } from '../../../src/core/identity/living-persons';
import { resolvePersons, type Persons } from '../../../src/core/identity/persons';
import { MessageTable } from '../../../src/core/table/message-table';
import { arbitraryRules, ID_VALUES } from '../../build/arbitrary-rules';
import { RULES, tableOf } from '../../build/messages';

const KINDS = ['anonymous', 'device', 'user'];
const rules = arbitraryRules(KINDS);
const message = fc.record({
  at: fc.nat(15),
  name: fc.constantFrom('E', 'Out', ''),
  ids: fc.dictionary(fc.constantFrom(...KINDS), fc.constantFrom(...ID_VALUES)),
});

/** What two answers are compared by: links in an order of their own. */
const plain = (p: Persons) => ({ ...p, links: p.links.map((l) => [l.a, l.b, l.firstAt].join(' ')).sort() });

test('followed message by message, persons are what all messages at once give, under whatever rules', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(message, fc.boolean()), { maxLength: 40 }), rules, (list, own) => {
      const all = { ...RULES, ...own };
      const table = new MessageTable();
      const living = new LivingPersons(table, all);
      list.forEach(([m, look], i) => {
        table.append({
          seq: i + 1,
          kind: m.name === '' ? 'identify' : 'event',
          name: m.name,
          sourceId: 's',
          release: '',
          occurredAt: m.at * 60_000,
          ids: m.ids,
          properties: {},
        });
        // Sometimes one by one, sometimes several together; looked at in between or not.
        if (look) {
          living.follow();
          expect(plain(living.persons())).toEqual(plain(resolvePersons(table, all)));
        }
      });
      living.follow();
      expect(plain(living.persons())).toEqual(plain(resolvePersons(table, all)));
    }),
    { seed: 11, numRuns: 1500 },
  );
});

test('a component of 100,000 identifiers, and one under a guard, take one more link each and stay right', () => {
  const n = 100_000;
  const table = tableOf([
    ...Array.from({ length: n }, (_, i) => ({ at: i, ids: { anonymous: `a-${i}`, device: `d-${Math.floor(i / 2)}` } })),
    ...Array.from({ length: n / 2 - 1 }, (_, i) => ({ at: n + i, ids: { anonymous: `a-${2 * i + 2}`, device: `d-${i}` } })),
  ]);
  const living = new LivingPersons(table, RULES);
  living.follow();
  expect(living.persons().count).toBe(1);
  const late = (ids: Record<string, string>) =>
    table.append({ seq: table.length + 1, kind: 'event', name: 'E', sourceId: 's', release: '', occurredAt: 1e12, ids, properties: {} });
  late({ anonymous: 'a-7', user: 'first' });
  late({ anonymous: 'a-9', user: 'second' });
  expect(living.follow()).toBe(2);
  const now = living.persons();
  expect([now.count, now.refused.map((r) => r.why)]).toEqual([2, ['two user IDs']]);
  expect(now.personOfMessage).toEqual(resolvePersons(table, RULES).personOfMessage);
});
