import fc from 'fast-check';
import { expect, test } from 'vitest';
import { failing, idsFromText, idsText, stepsOf, tryCases } from '../../../src/core/identity/own-cases';
import { resolvePersons } from '../../../src/core/identity/persons';
import { rehearse } from '../../../src/core/identity/rehearsal';
import { RULES, tableOf } from '../../build/messages';

const id = fc.stringMatching(/^[a-z]-[0-9]{1,2}$/);
const message = fc.record({ at: fc.nat(40), ids: fc.dictionary(fc.constantFrom('anonymous', 'device', 'user'), id, { minKeys: 1 }) });

test('what a person sent, taken as a case, is one person again, and says no identifier of theirs', () => {
  // Without guards: those look at messages of others too, which a case does not have.
  const rules = { ...RULES, maxUserIds: 0, sharedDeviceUsers: 0 };
  fc.assert(
    fc.property(fc.array(message, { minLength: 1, maxLength: 20 }), (list) => {
      const table = tableOf(list);
      const persons = resolvePersons(table, rules);
      const steps = stepsOf(persons, persons.personOfMessage[0]!);
      expect(steps.length).toBeGreaterThan(0);
      expect(rehearse(steps, steps.length, rules).persons).toHaveLength(1);
      const own = new Set(list.flatMap((m) => Object.values(m.ids)));
      for (const s of steps) for (const v of Object.values(s.ids)) expect(own.has(v)).toBe(false);
    }),
    { seed: 4, numRuns: 200 },
  );
});

test('identifiers written as text are read back, and what is none is said', () => {
  fc.assert(
    fc.property(fc.dictionary(fc.constantFrom('anonymous', 'user', 'device'), id, { minKeys: 1 }), (ids) => {
      expect(idsFromText(idsText(ids))).toEqual({ ...ids });
    }),
    { seed: 4 },
  );
  expect(idsFromText('user')).toContain('kind and value');
  expect(idsFromText('user a + user b')).toContain('one identifier of a kind');
});

test('a case that does not come to what it must is named', () => {
  const step = (ids: Record<string, string>) => ({ title: '', kind: 'event' as const, name: 'E', source: 's', ids });
  const c = { id: 'c', title: 'C', asks: '', steps: [step({ anonymous: 'a' }), step({ anonymous: 'a', user: 'u' })], persons: 1 };
  expect(failing(tryCases([c], RULES))).toEqual([]);
  expect(failing(tryCases([c], { ...RULES, linking: false }))).toEqual([{ id: 'c', title: 'C', expected: 1, found: 2 }]);
});
