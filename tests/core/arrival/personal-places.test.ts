/** Personal data is found wherever it lies, and nothing that leaves carries it on. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { excerptOf, maskedDeep } from '../../../src/core/arrival/excerpt';
import { masked, personalDataIn, personalPlaceIn } from '../../../src/core/arrival/personal-data';

const PERSONAL = {
  'ada.lovelace@example.org': 'e-mail address',
  '+44 20 7946 0958': 'telephone number',
  // The number of the card network's own examples; it passes Luhn (ISO/IEC 7812-1).
  '4111 1111 1111 1111': 'payment card number',
  // The example of ISO 13616.
  'GB82 WEST 1234 5698 7654 32': 'bank account number',
} as const;
const PLAIN = ['north', '2026-11-03T10:00:00Z', '12.50', 'crate-0001', '/donate/now?step=2', '', 'a@b', '1234567890'];

const personal = fc.constantFrom(...(Object.keys(PERSONAL) as (keyof typeof PERSONAL)[]));
const plain = fc.oneof(fc.constantFrom(...PLAIN), fc.integer(), fc.boolean(), fc.constant(null));
const tree = (leaf: fc.Arbitrary<unknown>) =>
  fc.letrec<{ node: unknown }>((tie) => ({
    node: fc.oneof(
      { depthSize: 'small', withCrossShrink: true },
      leaf,
      fc.array(tie('node'), { maxLength: 3 }),
      fc.dictionary(fc.constantFrom('hall', 'note', 'who'), tie('node'), { maxKeys: 3 }),
    ),
  })).node;

test('what holds none has none, at any depth', () => {
  fc.assert(
    fc.property(tree(plain), (v) => {
      expect(personalPlaceIn(v)).toBeUndefined();
      expect(maskedDeep(v)).toEqual(v);
    }),
    { seed: 16, numRuns: 500 },
  );
});

test('put anywhere into a value it is found at that very place, and masked there and nowhere else', () => {
  fc.assert(
    fc.property(tree(plain), personal, fc.array(fc.constantFrom('a', 'b', 0), { minLength: 1, maxLength: 5 }), (rest, text, path) => {
      const kind = PERSONAL[text];
      const around = (inner: unknown): unknown =>
        path.reduceRight<unknown>((v, step) => (step === 0 ? [v, rest] : { [step]: v, rest }), inner);
      expect(personalPlaceIn(around(`see ${text} there`))).toEqual({ path: path.map((p) => p), kind });
      expect(maskedDeep(around(`see ${text} there`))).toEqual(around(`see ‹${kind}› there`));
      expect(personalPlaceIn(maskedDeep(around(text)))).toBeUndefined();
    }),
    { seed: 17, numRuns: 300 },
  );
});

test('as a key it is found and masked as well', () => {
  const v = { 'ada.lovelace@example.org': 1 };
  expect(JSON.stringify(maskedDeep(v))).toBe('{"‹e-mail address›":1}');
});

test('several in one text are all masked; what is masked holds none', () => {
  fc.assert(
    fc.property(fc.array(fc.oneof(personal, fc.constantFrom('and', 'hall 7', '; '))), (parts) => {
      expect(personalDataIn(masked(parts.join(' | ')))).toBeUndefined();
    }),
    { seed: 18, numRuns: 300 },
  );
});

test('a finding shows the part of the message that it is read from', () => {
  const m = {
    name: 'Crate Moved',
    occurredAt: Date.UTC(2026, 10, 3, 15),
    receivedAt: Date.UTC(2026, 10, 3, 10),
    body: { page: '/donated-items', ids: { visitor: 'v-1' }, properties: { hall: 'north' }, user_properties: { tier: 'a' } },
  };
  expect((['page', 'ids', 'properties', 'user properties', 'name', 'times'] as const).map((s) => excerptOf(s, m))).toEqual([
    '/donated-items',
    '{"visitor":"v-1"}',
    '{"hall":"north"}',
    '{"tier":"a"}',
    'Crate Moved {"hall":"north"}',
    'happened 2026-11-03T15:00:00.000Z, received 2026-11-03T10:00:00.000Z',
  ]);
  expect(excerptOf('page', { ...m, body: {} })).toBe('no page');
  expect(excerptOf('times', { ...m, occurredAt: 9e15 })).toContain('9000000000000000');
});
