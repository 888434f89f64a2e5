import { nameCase } from '../../../../src/core/lint/rules/name-case';
import { nameTense } from '../../../../src/core/lint/rules/name-tense';
import { nameWordOrder } from '../../../../src/core/lint/rules/name-word-order';
import { nearDuplicateNames } from '../../../../src/core/lint/rules/near-duplicate-names';
import { vaguePropertyName } from '../../../../src/core/lint/rules/vague-property-name';
import { event, planWith, property } from '../../../build/plan';
import { testRule } from '../test-rule';

testRule(nameCase, {
  valid: [
    { name: 'Title Case, with an acronym', plan: planWith([event('e', { name: 'PDF Opened' }), property('tool_id', {})]) },
    { name: 'an empty name is another rule’s business', plan: planWith([event('e', { name: '' })]) },
  ],
  invalid: [
    {
      name: 'an event in another case',
      plan: planWith([event('e', { name: 'tool viewed' })]),
      path: ['event', 'e', 'name'],
      params: { name: 'tool viewed', style: 'Title Case', proposal: 'Tool Viewed' },
      says: '`tool viewed` is not in Title Case.',
      fixes: true,
    },
    {
      name: 'a property in camelCase',
      plan: planWith([property('p', { name: 'toolId' })]),
      path: ['property', 'p', 'name'],
      params: { name: 'toolId', style: 'snake_case', proposal: 'tool_id' },
      says: '`toolId` is not in snake_case.',
      fixes: true,
    },
    {
      name: 'three at once, each with its own proposal',
      plan: planWith([
        event('e', { name: 'tool-viewed' }),
        event('f', { name: 'Loan Started' }),
        property('p', { name: 'ToolID' }),
        property('q', { name: 'Days' }),
      ]),
      hits: [
        {
          path: ['event', 'e', 'name'],
          params: { name: 'tool-viewed', style: 'Title Case', proposal: 'Tool Viewed' },
          says: '`tool-viewed` is not in Title Case.',
          fixes: true,
        },
        {
          path: ['property', 'p', 'name'],
          params: { name: 'ToolID', style: 'snake_case', proposal: 'tool_id' },
          says: '`ToolID` is not in snake_case.',
          fixes: true,
        },
        {
          path: ['property', 'q', 'name'],
          params: { name: 'Days', style: 'snake_case', proposal: 'days' },
          says: '`Days` is not in snake_case.',
          fixes: true,
        },
      ],
    },
  ],
});

testRule(nameWordOrder, {
  valid: [
    { name: 'object then action', plan: planWith([event('e', { name: 'Loan Started' })]) },
    { name: 'an action with a particle and no object', plan: planWith([event('e', { name: 'Signed In' })]) },
    { name: 'no word that is known as a verb', plan: planWith([event('e', { name: 'Guide Fifty Percent' })]) },
  ],
  invalid: [
    {
      name: 'action first',
      plan: planWith([event('e', { name: 'Viewed Tool' })]),
      path: ['event', 'e', 'name'],
      params: { name: 'Viewed Tool', order: 'object then action', proposal: 'Tool Viewed' },
      says: '`Viewed Tool` does not read as object then action.',
      fixes: true,
    },
  ],
});

testRule(nameTense, {
  valid: [
    { name: 'past', plan: planWith([event('e', { name: 'Message Sent' })]) },
    {
      name: 'an agreed action is taken as it is',
      plan: planWith([event('e', { name: 'Guide View' })], { naming: { ...planWith([]).settings['settings']!.naming, actions: ['view'] } }),
    },
  ],
  invalid: [
    {
      name: 'a base form',
      plan: planWith([event('e', { name: 'Workshop Book' })]),
      path: ['event', 'e', 'name'],
      params: { name: 'Workshop Book', word: 'book', tense: 'past', proposal: 'Workshop Booked' },
      says: 'The action “book” in `Workshop Book` is not in the past tense.',
      fixes: true,
    },
    {
      name: 'an irregular verb',
      plan: planWith([event('e', { name: 'Letter Send' })]),
      path: ['event', 'e', 'name'],
      params: { name: 'Letter Send', word: 'send', tense: 'past', proposal: 'Letter Sent' },
      says: 'The action “send” in `Letter Send` is not in the past tense.',
      fixes: true,
    },
    {
      name: 'two that would come to one name are both found',
      plan: planWith([event('e', { name: 'Workshop Book' }), event('f', { name: 'Workshop Booking' })]),
      hits: [
        {
          path: ['event', 'e', 'name'],
          params: { name: 'Workshop Book', word: 'book', tense: 'past', proposal: 'Workshop Booked' },
          says: 'The action “book” in `Workshop Book` is not in the past tense.',
          fixes: true,
        },
        {
          path: ['event', 'f', 'name'],
          params: { name: 'Workshop Booking', word: 'booking', tense: 'past', proposal: 'Workshop Booked' },
          says: 'The action “booking” in `Workshop Booking` is not in the past tense.',
          fixes: true,
        },
      ],
    },
  ],
});

testRule(vaguePropertyName, {
  valid: [{ name: 'a name that says of what', plan: planWith([property('p', { name: 'tool_category' })]) }],
  invalid: [
    {
      name: 'named after the object it describes',
      plan: planWith([property('p', { name: 'type', describes: 'workshop' })]),
      path: ['property', 'p', 'name'],
      params: { name: 'type', proposal: 'workshop_type' },
      says: '`type` alone does not say of what. Name the thing it describes.',
      fixes: true,
    },
    {
      name: 'named after the one object of its events',
      plan: planWith([
        property('p', { name: 'status' }),
        event('e', { name: 'Loan Started', object: 'loan', properties: [{ propertyId: 'p', required: true }] }),
      ]),
      path: ['property', 'p', 'name'],
      params: { name: 'status', proposal: 'loan_status' },
      says: '`status` alone does not say of what. Name the thing it describes.',
      fixes: true,
    },
    {
      name: 'no proposal where the good name is taken',
      plan: planWith([property('p', { name: 'type', describes: 'tool' }), property('q', { name: 'tool_type' })]),
      path: ['property', 'p', 'name'],
      params: { name: 'type', proposal: undefined },
      says: '`type` alone does not say of what. Name the thing it describes.',
      fixes: false,
    },
  ],
});

testRule(nearDuplicateNames, {
  valid: [
    { name: 'numbered steps', plan: planWith([property('a', { name: 'step_1' }), property('b', { name: 'step_2' })]) },
    { name: 'short names a letter apart', plan: planWith([property('a', { name: 'fee' }), property('b', { name: 'fed' })]) },
    { name: 'an event and a property of one name', plan: planWith([event('a', { name: 'Loan' }), property('b', { name: 'loan' })]) },
  ],
  invalid: [
    {
      name: 'case and separator',
      plan: planWith([event('a', { name: 'Tool Viewed' }), event('b', { name: 'tool_viewed' })]),
      path: ['event', 'b', 'name'],
      params: { kind: 'event', name: 'tool_viewed', other: 'Tool Viewed', likeness: 'same but for case' },
      says: '`Tool Viewed` and `tool_viewed` differ only in case, spacing or separator.',
      fixes: false,
    },
    {
      name: 'swapped words',
      plan: planWith([property('a', { name: 'card_member' }), property('b', { name: 'member_card' })]),
      path: ['property', 'b', 'name'],
      params: { kind: 'property', name: 'member_card', other: 'card_member', likeness: 'swapped words' },
      says: '`card_member` and `member_card` are the same words in another order.',
      fixes: false,
    },
    {
      name: 'a letter or two',
      plan: planWith([event('a', { name: 'Reservation Confirmed' }), event('b', { name: 'Reservaton Confirmed' })]),
      path: ['event', 'b', 'name'],
      params: { kind: 'event', name: 'Reservaton Confirmed', other: 'Reservation Confirmed', likeness: 'small edit distance' },
      says: '`Reservation Confirmed` and `Reservaton Confirmed` differ by a letter or two.',
      fixes: false,
    },
    {
      name: 'the same name twice',
      plan: planWith([event('a', { name: 'Tool Viewed' }), event('b', { name: 'Tool Viewed' })]),
      path: ['event', 'b', 'name'],
      params: { kind: 'event', name: 'Tool Viewed', other: 'Tool Viewed', likeness: 'same name' },
      says: '`Tool Viewed` and `Tool Viewed` are in the plan twice under the same name.',
      fixes: false,
    },
    {
      name: 'two pairs, each told once at the later one',
      plan: planWith([
        event('a', { name: 'Tool Viewed' }),
        event('b', { name: 'toolViewed' }),
        property('c', { name: 'loan_days' }),
        property('d', { name: 'days_loan' }),
      ]),
      hits: [
        {
          path: ['event', 'b', 'name'],
          params: { kind: 'event', name: 'toolViewed', other: 'Tool Viewed', likeness: 'same but for case' },
          says: '`Tool Viewed` and `toolViewed` differ only in case, spacing or separator.',
          fixes: false,
        },
        {
          path: ['property', 'd', 'name'],
          params: { kind: 'property', name: 'days_loan', other: 'loan_days', likeness: 'swapped words' },
          says: '`loan_days` and `days_loan` are the same words in another order.',
          fixes: false,
        },
      ],
    },
  ],
});
