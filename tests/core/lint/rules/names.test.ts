import { nameCharacters } from '../../../../src/core/lint/rules/name-characters';
import { nameOffList } from '../../../../src/core/lint/rules/name-off-list';
import { namePlural } from '../../../../src/core/lint/rules/name-plural';
import { nameReserved } from '../../../../src/core/lint/rules/name-reserved';
import { nameSynonym } from '../../../../src/core/lint/rules/name-synonym';
import { nameTooLong } from '../../../../src/core/lint/rules/name-too-long';
import { nearDuplicateNames } from '../../../../src/core/lint/rules/near-duplicate-names';
import { valueCase } from '../../../../src/core/lint/rules/value-case';
import { DEFAULT_SETTINGS } from '../../../../src/core/plan/defaults';
import type { NamingRules } from '../../../../src/core/plan/plan';
import { event, planWith, property } from '../../../plans';
import { testRule } from '../test-rule';

const named = (rules: Partial<NamingRules>) => ({ naming: { ...DEFAULT_SETTINGS.naming, ...rules } });

testRule(nameTooLong, {
  valid: [{ name: 'as long as agreed', plan: planWith([event('e', { name: 'x'.repeat(64) })]) }],
  invalid: [
    {
      name: 'ten thousand characters, shown shortened',
      plan: planWith([property('p', { name: 'x'.repeat(10_000) })]),
      path: ['property', 'p', 'name'],
      params: { length: 10_000, most: 64 },
      says: `\`${'x'.repeat(60)}…\` has 10000 characters; at most 64 are agreed.`,
      mends: false,
    },
    {
      name: 'characters are counted, not code units',
      plan: planWith([event('e', { name: '🔨'.repeat(4) })], named({ maxLength: 3 })),
      path: ['event', 'e', 'name'],
      params: { length: 4 },
      says: '`🔨🔨🔨🔨…` has 4 characters; at most 3 are agreed.',
      mends: false,
    },
  ],
});

testRule(nameCharacters, {
  valid: [
    { name: 'plain', plan: planWith([event('e', { name: 'Tool Viewed' }), property('p', { name: 'tool_id' })]) },
    { name: 'other letters where they are agreed', plan: planWith([property('p', { name: 'größe' })], named({ plainCharacters: false })) },
  ],
  invalid: [
    {
      name: 'a mark of direction',
      plan: planWith([event('e', { name: 'Tool\u202e Viewed' })]),
      path: ['event', 'e', 'name'],
      params: { problem: 'hidden character', proposal: 'Tool Viewed' },
      says: '`Tool\u202e Viewed` holds a character that cannot be seen, such as a mark of direction.',
      mends: true,
    },
    {
      name: 'a combining mark where a composed letter is meant',
      plan: planWith([property('p', { name: 'gro\u0308sse' })], named({ plainCharacters: false })),
      path: ['property', 'p', 'name'],
      params: { problem: 'not composed', proposal: 'grösse' },
      says: '`gro\u0308sse` is not in Unicode normal form C, so an equal-looking name is another one.',
      mends: true,
    },
    {
      name: 'an emoji',
      plan: planWith([event('e', { name: 'Tool 🔨 Viewed' })]),
      path: ['event', 'e', 'name'],
      params: { problem: 'beyond plain characters', proposal: undefined },
      says: '`Tool 🔨 Viewed` holds characters beyond A to Z, digits, blanks and - _ . /.',
      mends: false,
    },
    {
      name: 'a blank at the end',
      plan: planWith([property('p', { name: 'tool_id ' })]),
      path: ['property', 'p', 'name'],
      params: { problem: 'blank at an end' },
      says: '`tool_id ` begins or ends with a blank.',
      mends: true,
    },
  ],
});

testRule(nearDuplicateNames, {
  valid: [
    {
      name: 'numbered steps are not twins',
      plan: planWith([property('a', { name: 'step_1_text' }), property('b', { name: 'step_2_text' })]),
    },
    {
      name: 'retired ones do not count',
      plan: planWith([event('a', { name: 'Tool Viewed' }), event('b', { name: 'Tool viewed', retired: true })]),
    },
  ],
  invalid: [
    {
      name: 'the same after normalisation',
      plan: planWith([property('a', { name: 'gr\u00f6sse' }), property('b', { name: 'gro\u0308sse' })]),
      path: ['property', 'b', 'name'],
      params: { likeness: 'same name' },
      says: '`gr\u00f6sse` and `gro\u0308sse` stand in the plan twice under the same name.',
      mends: false,
    },
    {
      name: 'a synonym',
      plan: planWith(
        [event('a', { name: 'Tool Borrowed' }), event('b', { name: 'Tools Rented' })],
        named({ synonyms: [['borrow', 'rent']] }),
      ),
      path: ['event', 'b', 'name'],
      params: { likeness: 'same meaning' },
      says: '`Tool Borrowed` and `Tools Rented` say the same in other words.',
      mends: false,
    },
    {
      name: 'a letter swapped',
      plan: planWith([property('a', { name: 'tool_category' }), property('b', { name: 'tool_cathegory' })]),
      path: ['property', 'b', 'name'],
      params: { likeness: 'small edit distance' },
      says: '`tool_category` and `tool_cathegory` differ by a letter or two.',
      mends: false,
    },
  ],
});

testRule(nameReserved, {
  valid: [{ name: 'its own name', plan: planWith([property('p', { name: 'release_note' })]) }],
  invalid: [
    {
      name: 'a field of the envelope',
      plan: planWith([property('p', { name: 'time', describes: 'workshop' })]),
      path: ['property', 'p', 'name'],
      params: { proposal: 'workshop_time' },
      says: '`time` is reserved for the envelope of a message.',
      mends: true,
    },
    {
      name: 'nothing to name it after',
      plan: planWith([property('p', { name: 'release' })]),
      path: ['property', 'p', 'name'],
      params: { proposal: undefined },
      says: '`release` is reserved for the envelope of a message.',
      mends: false,
    },
  ],
});

testRule(nameOffList, {
  valid: [
    { name: 'an empty list agrees on anything', plan: planWith([event('e', { name: 'Ladder Climbed' })]) },
    {
      name: 'on the list, in another form',
      plan: planWith([event('e', { name: 'Tools Viewed' })], named({ objects: ['tool'], actions: ['view'] })),
    },
  ],
  invalid: [
    {
      name: 'an object that is not on it',
      plan: planWith([event('e', { name: 'Ladder Viewed' })], named({ objects: ['tool'], actions: ['viewed'] })),
      path: ['event', 'e', 'name'],
      params: { part: 'object', word: 'ladder' },
      says: 'The object “ladder” of `Ladder Viewed` is not on the list of agreed objects.',
      mends: true,
    },
    {
      name: 'an action that is not on it',
      plan: planWith([event('e', { name: 'Tool Polished' })], named({ objects: ['tool'], actions: ['viewed'] })),
      path: ['event', 'e', 'name'],
      params: { part: 'action', word: 'polished' },
      says: 'The action “polished” of `Tool Polished` is not on the list of agreed actions.',
      mends: true,
    },
  ],
});

testRule(nameSynonym, {
  valid: [{ name: 'the agreed word', plan: planWith([event('e', { name: 'Tool Borrowed' })], named({ synonyms: [['borrow', 'rent']] })) }],
  invalid: [
    {
      name: 'a verb, in its tense',
      plan: planWith([event('e', { name: 'Tool Rented' })], named({ synonyms: [['borrow', 'rent']] })),
      path: ['event', 'e', 'name'],
      params: { word: 'rented', agreed: 'borrow', proposal: 'Tool Borrowed' },
      says: '`Tool Rented` says “rented” where “borrow” is agreed.',
      mends: true,
    },
    {
      name: 'taken already, so there is nothing to rename to',
      plan: planWith(
        [property('a', { name: 'member_age' }), property('b', { name: 'customer_age' })],
        named({ synonyms: [['member', 'customer']] }),
      ),
      path: ['property', 'b', 'name'],
      params: { proposal: undefined },
      says: '`customer_age` says “customer” where “member” is agreed.',
      mends: false,
    },
  ],
});

testRule(namePlural, {
  valid: [
    { name: 'singular', plan: planWith([event('e', { name: 'Tool Viewed' })]) },
    { name: 'a plural that is agreed', plan: planWith([event('e', { name: 'Terms Accepted' })], named({ objects: ['terms'] })) },
  ],
  invalid: [
    {
      name: 'plural',
      plan: planWith([event('e', { name: 'Tools Viewed' })]),
      path: ['event', 'e', 'name'],
      params: { word: 'tools', proposal: 'Tool Viewed' },
      says: 'The object “tools” of `Tools Viewed` is in the plural.',
      mends: true,
    },
  ],
});

testRule(valueCase, {
  valid: [
    { name: 'any style', plan: planWith([property('p', { allowed: ['Drills', 'saws'] })]) },
    { name: 'the agreed style', plan: planWith([property('p', { allowed: ['hand_saw'] })], named({ valueCase: 'snake_case' })) },
  ],
  invalid: [
    {
      name: 'another style, in samples too',
      plan: planWith(
        [property('p', { allowed: ['Hand Saws', 'drills', 'Tents'], samples: ['Hand Saws'] })],
        named({ valueCase: 'snake_case' }),
      ),
      path: ['property', 'p', 'allowed'],
      params: { value: 'Hand Saws', more: 1 },
      says: 'The value “Hand Saws” of `p` and 1 more are not in snake_case.',
      mends: true,
    },
  ],
});
