/** Checks on values in objects: where each finding says that it is, in which words, and what passes. */
import { expect, test } from 'vitest';
import { compileChecker } from '../../../src/core/arrival/compile';
import { draftFromProfile } from '../../../src/core/arrival/profile-draft';
import { profileOf } from '../../../src/core/arrival/profile';
import { findingSentence } from '../../../src/core/arrival/words';
import { judgeHistory } from '../../../src/core/arrival/history';
import { applyEdits } from '../../../src/core/plan/edit';
import { refOfProperty, refText } from '../../../src/core/plan/property-path';
import { referencesTo } from '../../../src/core/plan/references';
import { moveProperty, renameProperty } from '../../../src/core/plan/rename';
import { coverageOf } from '../../../src/core/questions/coverage';
import { create, deepFreeze, event, planWith, property, question } from '../../build/plan';
import { tableOf } from '../../build/messages';

const required = (...ids: string[]) => ids.map((propertyId) => ({ propertyId, required: true }));
const plan = deepFreeze(
  planWith([
    create('source', 's', { name: 'Hall', kind: 'web', automaticProperties: ['screen'] }),
    create('identifierKind', 'user', { name: 'user', identifies: 'person' }),
    create('userProperty', 'city', { name: 'city', within: ['address'], allowed: ['York', 'Hull'] }),
    create('userProperty', 'street', { name: 'street', within: ['address'], personalData: 'personal' }),
    property('total', { name: 'total', within: ['order'], type: 'number', min: 0, formerNames: ['sum'] }),
    property('mail', { name: 'mail', within: ['order', 'buyer'], personalData: 'personal' }),
    property('note', { name: 'note', within: ['order', 'buyer'] }),
    property('currency', { name: 'currency', within: ['order'], allowed: ['EUR', 'GBP'] }),
    property('bag', { name: 'bag', type: 'object' }),
    event('e', {
      name: 'E',
      properties: [...required('total'), ...['mail', 'note', 'currency', 'bag'].map((propertyId) => ({ propertyId, required: false }))],
    }),
    question('q', {
      formula: { type: 'total of a property', event: { eventName: 'E', where: [] }, property: ['order', 'total'], period: 'day' },
    }),
  ]),
);
const checker = compileChecker(plan);
const found = (properties: Record<string, unknown>, userProperties: Record<string, unknown> = {}) =>
  checker
    .check({ kind: 'event', name: 'E', ids: { user: 'u' }, properties, userProperties })
    .map((f) => [f.code, f.path, findingSentence(f, 'E')]);
const order = (inside: Record<string, unknown>) => ({ order: { total: 1, ...inside } });

test.each<[string, Record<string, unknown>, Record<string, unknown>?]>([
  ['all that is required', order({})],
  ['personal data in an inner property that may hold it', order({ buyer: { mail: 'jo@example.org' } })],
  ['an object of which nothing inside is planned', { ...order({}), bag: { anything: [1, { at: 'all' }] } }],
  ['user properties in an object', order({}), { address: { city: 'York', street: 'Mill Lane 4, jo@example.org' } }],
])('%s passes', (_, properties, userProperties) => {
  expect(found(properties, userProperties)).toEqual([]);
});

test.each<[Record<string, unknown>, string, string[], string]>([
  [{}, 'property-missing', ['properties', 'order'], '`E` came without `order`, which is required.'],
  [{ order: {} }, 'property-missing', ['properties', 'order', 'total'], '`E` came without `order.total`, which is required.'],
  [{ order: 5 }, 'wrong-type', ['properties', 'order'], '`E` came with `order` as integer (5) where the plan says object.'],
  [
    { order: { total: '5' } },
    'wrong-type',
    ['properties', 'order', 'total'],
    '`E` came with `order.total` as a number in text ("5") where the plan says number.',
  ],
  [
    order({ total: -1 }),
    'out-of-range',
    ['properties', 'order', 'total'],
    '`E` came with `order.total` = -1 where the plan allows at least 0.',
  ],
  [
    order({ currency: 'eur' }),
    'value-not-allowed',
    ['properties', 'order', 'currency'],
    '`E` came with `order.currency` = "eur", which is not an allowed value; the nearest is “EUR”.',
  ],
  [
    order({ curency: 'EUR' }),
    'unplanned-property',
    ['properties', 'order', 'curency'],
    '`E` came with `order.curency`, which is not planned on it; the nearest planned name is `order.currency`.',
  ],
  [
    order({ buyer: { note: 'ask jo@example.org' } }),
    'personal-data',
    ['properties', 'order', 'buyer', 'note'],
    '`E` came with an e-mail address in `order.buyer.note`.',
  ],
  [
    { order: { sum: 3 } },
    'former-name',
    ['properties', 'order', 'sum'],
    '`E` comes with `order.sum`, a former name of `order.total`; it counts with it.',
  ],
  // What a library adds it adds to the message itself.
  [
    order({ screen: 'x' }),
    'unplanned-property',
    ['properties', 'order', 'screen'],
    '`E` came with `order.screen`, which is not planned on it.',
  ],
])('%j is found as %s', (properties, code, path, sentence) => {
  expect(found(properties)).toEqual([[code, path, sentence]]);
});

test('user properties in objects: their lists, and names that are not planned', () => {
  expect(found(order({}), { address: { city: 'Leeds', citty: 'York' } })).toEqual([
    ['value-not-allowed', ['user_properties', 'address', 'city'], '`E` came with `address.city` = "Leeds", which is not an allowed value.'],
    [
      'unplanned-user-property',
      ['user_properties', 'address', 'citty'],
      '`E` set the user property `address.citty`, which is not planned; the nearest planned name is `address.city`.',
    ],
  ]);
});

test('a rename of an object, or a move of what is inside, takes along what names it', () => {
  expect(coverageOf(plan, plan.question['q']!).state).toBe('answerable');
  expect(referencesTo(plan, 'property', 'total').map((r) => [r.kind, r.id])).toEqual([
    ['event', 'e'],
    ['question', 'q'],
  ]);
  const after = (edits: ReturnType<typeof moveProperty>) => {
    const r = typeof edits === 'string' ? undefined : applyEdits(plan, edits);
    if (!r?.ok) throw new Error(JSON.stringify(edits));
    return r.plan;
  };
  const moved = after(moveProperty(plan, 'total', ['basket', 'sums']));
  expect(moved.question['q']!.formula).toMatchObject({ property: ['basket', 'sums', 'total'] });
  expect(coverageOf(moved, moved.question['q']!).state).toBe('answerable');
  const out = after(moveProperty(plan, 'total', []));
  expect(out.question['q']!.formula).toMatchObject({ property: 'total' });
  expect('within' in out.property['total']!).toBe(false);
  expect(moveProperty(plan, 'bag', ['bag'])).toBe('`bag` cannot be inside itself.');
  expect(
    moveProperty(
      plan,
      'total',
      Array.from({ length: 8 }, () => 'o'),
    ),
  ).toBe('At most 7 objects may enclose a property.');

  const withObject = applyEdits(plan, [property('o', { name: 'order', type: 'object' })]);
  if (!withObject.ok) throw new Error();
  const renamed = applyEdits(withObject.plan, renameProperty(withObject.plan, 'o', 'purchase', true));
  if (!renamed.ok) throw new Error();
  expect(Object.values(renamed.plan.property).map((p) => refText(refOfProperty(p)))).toEqual([
    'purchase.total',
    'purchase.buyer.mail',
    'purchase.buyer.note',
    'purchase.currency',
    'bag',
    'purchase',
  ]);
  // The event carries what is inside, not the object itself; the question follows all the same.
  expect(renamed.plan.question['q']!.formula).toMatchObject({ property: ['purchase', 'total'] });
  expect(renamed.plan.property['o']!.formerNames).toEqual(['order']);
});

test('what came unplanned in objects is profiled at its path, and drafted with the objects around it', () => {
  const sent = Array.from({ length: 20 }, (_, i) => ({
    at: i,
    ids: { user: 'u' },
    name: 'Basket Paid',
    properties: {
      basket: { size: (i % 3) + 1, kind: i % 2 ? 'gift' : 'own', parts: ['a'] },
      ...(i < 3 ? { crowd: { [`k${i}`]: 1 } } : {}),
    },
  }));
  const many = Array.from({ length: 150 }, (_, i) => ({
    at: 20 + i,
    ids: {},
    name: 'Basket Paid',
    properties: { basket: { size: 1, kind: 'own', parts: [] }, crowd: { [`x${i}`]: i } },
  }));
  const profile = profileOf(plan, tableOf([...sent, ...many]), 'Basket Paid', 0)!;
  const told = new Map(profile.properties.map((p) => [p.name, p]));
  expect(told.get('basket.size')).toMatchObject({
    messages: 170,
    distinct: 3,
    mayLack: false,
    types: [{ value: 'integer', messages: 170 }],
  });
  expect(told.get('basket.kind')!.inferred).toEqual({ type: 'string', allowed: ['gift', 'own'], samples: ['own', 'gift'] });
  expect(told.get('basket')!.types.map((t) => t.value)).toEqual(['object']);
  expect(told.get('crowd')!.mayLack).toBe(true);
  let n = 0;
  const drafted = applyEdits(
    plan,
    draftFromProfile(plan, profile, () => `new${n++}`),
  );
  if (!drafted.ok) throw new Error();
  const names = Object.entries(drafted.plan.property).flatMap(([id, p]) => (id.startsWith('new') ? [refText(refOfProperty(p))] : []));
  // Of names without end the object alone.
  expect(names.sort()).toEqual(['basket', 'basket.kind', 'basket.parts', 'basket.size', 'crowd']);
  const messages = [...sent, ...many].map((m, i) => ({
    sourceId: 's',
    receivedAt: i,
    value: { id: `m${i}`, name: m.name, time: new Date(i).toISOString(), ids: { user: 'u' }, properties: m.properties, release: '1' },
  }));
  expect(
    judgeHistory(drafted.plan, messages, 1000, 0).groups.filter((g) => g.code === 'unplanned-property' || g.code === 'wrong-type'),
  ).toEqual([]);
});
