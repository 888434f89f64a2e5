/** Case conversion against the package change-case 5; edit distance by the package fastest-levenshtein is used as it is.
 *  Its option mergeAmbiguousCharacters is set, since a wire name in camelCase has no underscore before a digit.
 *  Verb forms: common practice, no source; the list is of product verbs.
 */
import { camelCase, capitalCase, constantCase, kebabCase, pascalCase, sentenceCase, snakeCase } from 'change-case';
import { expect, test } from 'vitest';
import { toCase, type CaseStyle } from '../../src/core/naming/case-style';
import { objectAction } from '../../src/core/naming/object-action';
import { DEFAULT_SETTINGS } from '../../src/core/plan/defaults';
import { pastOf, tenseOf } from '../../src/core/naming/tense';

const REFERENCE: readonly (readonly [CaseStyle, (s: string) => string])[] = [
  ['Title Case', capitalCase],
  ['Sentence case', sentenceCase],
  ['snake_case', snakeCase],
  ['camelCase', (s) => camelCase(s, { mergeAmbiguousCharacters: true })],
  ['PascalCase', (s) => pascalCase(s, { mergeAmbiguousCharacters: true })],
  ['kebab-case', kebabCase],
  ['CONSTANT_CASE', constantCase],
];
// The test words of change-case 5's own suite that have letters only, from memory, and names as they occur in plans.
const WORDS = [
  'test',
  'test string',
  'Test String',
  'TestString',
  'testString',
  'TEST STRING',
  'test_string',
  'test-string',
  'XMLHttpRequest',
  'iOSApp',
  'userID2',
  'fooBAR',
  'version 10 beta',
  'tool viewed',
  'Tool Viewed',
  'HTTPStatus',
  'dot.case',
  'a b c',
];

test.each(REFERENCE)('%s', (style, reference) => {
  for (const w of WORDS) expect([w, toCase(w, style)]).toEqual([w, reference(w)]);
});

test('verb forms', () => {
  const pairs =
    'book booked, view viewed, send sent, stop stopped, apply applied, choose chose, pay paid, share shared, cancel cancelled, submit submitted, buy bought, begin began, read read'
      .split(', ')
      .map((p) => p.split(' ') as [string, string]);
  for (const [base, past] of pairs) expect([base, pastOf(base), tenseOf(past)]).toEqual([base, past, 'past']);
  for (const noun of ['tool', 'catalogue', 'membership', 'fee']) expect(tenseOf(noun)).toBe('unknown');
});

test('forms in -ing have the past of their stem; a word with capitals inside stays one where it stands by itself', () => {
  // Common practice, no source.
  expect(['waiting', 'shipping', 'moving', 'trying', 'onboarding', 'booking'].map(pastOf)).toEqual([
    'waited',
    'shipped',
    'moved',
    'tried',
    'onboarded',
    'booked',
  ]);
  expect(toCase('iOS App Opened', 'Title Case')).toBe('iOS App Opened');
  expect(toCase('ios app opened', 'Sentence case')).toBe('iOS app opened');
  expect(toCase('iOS App Opened', 'snake_case')).toBe('ios_app_opened');
});

test('an action of several words is split off whole, agreed or with what hangs on its verb', () => {
  const { naming } = DEFAULT_SETTINGS;
  const parts = (name: string, actions: readonly string[] = []) => {
    const p = objectAction(name, { ...naming, actions });
    return p && [p.object.join(' '), p.action.join(' ')];
  };
  expect(parts('parcel_moved_to_shelf')).toEqual(['parcel', 'moved to shelf']);
  expect(parts('Account Closed By Member')).toEqual(['account', 'closed by member']);
  expect(parts('order_in_review', ['in_review'])).toEqual(['order', 'in review']);
  expect(parts('in_review_order', ['in_review'])).toEqual(['order', 'in review']);
});
