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
import { event, planWith, property } from '../../../build/plan';
import { testRule } from '../test-rule';

const named = (rules: Partial<NamingRules>) => ({ naming: { ...DEFAULT_SETTINGS.naming, ...rules } });

testRule(nameTooLong, {
  valid: [{ name: 'as long as agreed', plan: planWith([event('e', { name: 'x'.repeat(64) })]) }],
  invalid: [
    {
      name: 'ten thousand characters, shown shortened',
      plan: planWith([property('p', { name: 'x'.repeat(10_000) })]),
      path: ['property', 'p', 'name'],
      params: { name: 'xxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxx…', length: 10000, max: 64 },
      says: `\`${'x'.repeat(60)}…\` has 10000 characters; at most 64 are agreed.`,
      fixes: false,
    },
    {
      name: 'characters are counted, not code units',
      plan: planWith([event('e', { name: '🔨'.repeat(4) })], named({ maxLength: 3 })),
      path: ['event', 'e', 'name'],
      params: { name: '🔨🔨🔨🔨…', length: 4, max: 3 },
      says: '`🔨🔨🔨🔨…` has 4 characters; at most 3 are agreed.',
      fixes: false,
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
      params: { name: 'Tool‮ Viewed', problem: 'hidden character', proposal: 'Tool Viewed' },
      says: '`Tool\u202e Viewed` holds a character that cannot be seen, such as a mark of direction.',
      fixes: true,
    },
    {
      name: 'a combining mark where a composed letter is meant',
      plan: planWith([property('p', { name: 'gro\u0308sse' })], named({ plainCharacters: false })),
      path: ['property', 'p', 'name'],
      params: { name: 'grösse', problem: 'not composed', proposal: 'grösse' },
      says: '`gro\u0308sse` is not in Unicode normal form C, so an equal-looking name is another one.',
      fixes: true,
    },
    {
      name: 'an emoji',
      plan: planWith([event('e', { name: 'Tool 🔨 Viewed' })]),
      path: ['event', 'e', 'name'],
      params: { name: 'Tool 🔨 Viewed', problem: 'beyond plain characters', proposal: undefined },
      says: '`Tool 🔨 Viewed` holds characters beyond A to Z, digits, blanks and - _ . /.',
      fixes: false,
    },
    {
      name: 'a blank at the end',
      plan: planWith([property('p', { name: 'tool_id ' })]),
      path: ['property', 'p', 'name'],
      params: { name: 'tool_id ', problem: 'blank at an end', proposal: 'tool_id' },
      says: '`tool_id ` begins or ends with a blank.',
      fixes: true,
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
      params: { kind: 'property', name: 'grösse', other: 'grösse', likeness: 'same name' },
      says: '`gr\u00f6sse` and `gro\u0308sse` are in the plan twice under the same name.',
      fixes: false,
    },
    {
      name: 'a synonym',
      plan: planWith(
        [event('a', { name: 'Tool Borrowed' }), event('b', { name: 'Tools Rented' })],
        named({ synonyms: [['borrow', 'rent']] }),
      ),
      path: ['event', 'b', 'name'],
      params: { kind: 'event', name: 'Tools Rented', other: 'Tool Borrowed', likeness: 'same meaning' },
      says: '`Tool Borrowed` and `Tools Rented` say the same in other words.',
      fixes: false,
    },
    {
      name: 'a letter swapped',
      plan: planWith([property('a', { name: 'tool_category' }), property('b', { name: 'tool_cathegory' })]),
      path: ['property', 'b', 'name'],
      params: { kind: 'property', name: 'tool_cathegory', other: 'tool_category', likeness: 'small edit distance' },
      says: '`tool_category` and `tool_cathegory` differ by a letter or two.',
      fixes: false,
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
      params: { name: 'time', proposal: 'workshop_time' },
      says: '`time` is reserved for the envelope of a message.',
      fixes: true,
    },
    {
      name: 'nothing to name it after',
      plan: planWith([property('p', { name: 'release' })]),
      path: ['property', 'p', 'name'],
      params: { name: 'release', proposal: undefined },
      says: '`release` is reserved for the envelope of a message.',
      fixes: false,
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
      params: { name: 'Ladder Viewed', part: 'object', word: 'ladder' },
      says: 'The object “ladder” of `Ladder Viewed` is not on the list of agreed objects.',
      fixes: true,
    },
    {
      name: 'an action that is not on it',
      plan: planWith([event('e', { name: 'Tool Polished' })], named({ objects: ['tool'], actions: ['viewed'] })),
      path: ['event', 'e', 'name'],
      params: { name: 'Tool Polished', part: 'action', word: 'polished' },
      says: 'The action “polished” of `Tool Polished` is not on the list of agreed actions.',
      fixes: true,
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
      params: { name: 'Tool Rented', word: 'rented', agreed: 'borrow', proposal: 'Tool Borrowed' },
      says: '`Tool Rented` says “rented” where “borrow” is agreed.',
      fixes: true,
    },
    {
      name: 'taken already, so there is nothing to rename to',
      plan: planWith(
        [property('a', { name: 'member_age' }), property('b', { name: 'customer_age' })],
        named({ synonyms: [['member', 'customer']] }),
      ),
      path: ['property', 'b', 'name'],
      params: { name: 'customer_age', word: 'customer', agreed: 'member', proposal: undefined },
      says: '`customer_age` says “customer” where “member” is agreed.',
      fixes: false,
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
      params: { name: 'Tools Viewed', word: 'tools', proposal: 'Tool Viewed' },
      says: 'The object “tools” of `Tools Viewed` is in the plural.',
      fixes: true,
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
      params: { name: 'p', value: 'Hand Saws', more: 1, style: 'snake_case' },
      says: 'The value “Hand Saws” of `p` and 1 more are not in snake_case.',
      fixes: true,
    },
  ],
});
