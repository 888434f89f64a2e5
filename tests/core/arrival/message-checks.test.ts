/** The checks on identifiers, user properties and single values: what each finds, in which words, and what it lets pass. */
import { expect, test } from 'vitest';
import { compileChecker } from '../../../src/core/arrival/compile';
import { findingSentence } from '../../../src/core/arrival/words';
import { create, deepFreeze, event, planWith, property } from '../../build/plan';

const plan = deepFreeze(
  planWith([
    create('source', 's', { name: 'Hall', kind: 'web', automaticProperties: ['screen'] }),
    create('identifierKind', 'user', { name: 'user', pattern: '^m-\\d+$', identifies: 'person' }),
    create('identifierKind', 'mail', { name: 'mail', personalData: true, identifies: 'person' }),
    create('userProperty', 'hall', { name: 'home_hall', allowed: ['North', 'South'] }),
    property('note', {}),
    property('address', { personalData: 'personal' }),
    property('size', { allowed: ['', 'large'] }),
    event('e', { name: 'E', properties: ['note', 'address', 'size'].map((propertyId) => ({ propertyId, required: false })) }),
  ]),
);
const checker = compileChecker(plan);
interface Sent {
  readonly ids?: Record<string, string>;
  readonly properties?: Record<string, unknown>;
  readonly userProperties?: Record<string, unknown>;
}
const found = ({ ids = { user: 'm-1' }, properties = {}, userProperties = {} }: Sent) =>
  checker
    .check({ kind: 'event', name: 'E', ids, properties, userProperties })
    .map((f) => [f.code, f.path.join('.'), findingSentence(f, 'E')]);

test.each<[string, Sent]>([
  ['an identifier of its pattern', {}],
  ['an address in a kind that is personal', { ids: { mail: 'jo@example.org' } }],
  ['personal data where it is allowed', { properties: { address: 'jo@example.org' } }],
  ['an empty text that is on the list', { properties: { size: '' } }],
  ['an automatic property', { properties: { screen: 'gate' } }],
  ['a planned user property', { userProperties: { home_hall: 'North' } }],
])('%s passes', (_, sent) => {
  expect(found(sent)).toEqual([]);
});

test.each<[Sent, string, string, string]>([
  [{ ids: {} }, 'no-identifier', 'ids', '`E` came without any identifier (user, mail).'],
  [{ ids: { user: '17' } }, 'malformed-identifier', 'ids.user', '`E` came with "17" as its user ID, which is not of the pattern ^m-\\d+$.'],
  [{ ids: { user: 'jo@example.org' } }, 'personal-identifier', 'ids.user', '`E` came with an e-mail address as its user ID.'],
  [{ properties: { note: 'ask jo@example.org' } }, 'personal-data', 'properties.note', '`E` came with an e-mail address in `note`.'],
  [{ properties: { note: '  ' } }, 'empty-value', 'properties.note', '`E` came with blanks in `note`.'],
  [{ properties: { note: '' } }, 'empty-value', 'properties.note', '`E` came with empty text in `note`.'],
  [
    { userProperties: { North: 'home_hall' } },
    'swapped-user-property',
    'user_properties.home_hall',
    '`E` set the user property `North` to "home_hall": name and value of `home_hall` are swapped.',
  ],
  [
    { userProperties: { homeHall: 'North' } },
    'unplanned-user-property',
    'user_properties.homeHall',
    '`E` set the user property `homeHall`, which is not planned; the nearest planned name is `home_hall`.',
  ],
])('%j is found as %s', (sent, code, path, sentence) => {
  expect(found(sent)).toEqual([[code, path, sentence]]);
});

test('an identifier among the properties is found where it is missing among the identifiers', () => {
  const codes = (sent: Sent) => found(sent).map(([code]) => code);
  expect(codes({ ids: { mail: 'x' }, properties: { userId: 'm-1' } })).toEqual(['unplanned-property', 'identifier-as-property']);
  expect(codes({ properties: { user_id: 'm-1' } })).toEqual(['unplanned-property']);
});
