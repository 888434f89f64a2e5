/** The rules over definitions, and what the rules over names say of them. */
import { EVERYTHING, type Condition } from '../../../../src/core/definitions/definition';
import { definitionCannotHold } from '../../../../src/core/lint/rules/definition-cannot-hold';
import { definitionForNoQuestion } from '../../../../src/core/lint/rules/definition-for-no-question';
import { definitionNarrowsNothing } from '../../../../src/core/lint/rules/definition-narrows-nothing';
import { descriptionMissing } from '../../../../src/core/lint/rules/description-missing';
import { nameCase } from '../../../../src/core/lint/rules/name-case';
import { nearDuplicateNames } from '../../../../src/core/lint/rules/near-duplicate-names';
import { ownerMissing } from '../../../../src/core/lint/rules/owner-missing';
import type { PlanDefinition } from '../../../../src/core/plan/plan';
import { create, event, planWith, question } from '../../../build/plan';
import { testRule } from '../test-rule';

const made = (names: readonly string[]): PlanDefinition['source'] => ({ of: 'events', names });
const definition = (id: string, body: Partial<PlanDefinition>) =>
  create('definition', id, { source: made(['Tool Viewed']), description: 'Narrow.', owner: 'Ana', ...body });
const release = (op: Condition['op'], ...values: string[]): Condition => ({ subject: { of: 'release' }, op, values });
const where = (match: 'all' | 'any', ...conditions: Condition[]) => ({ match, conditions, groups: [] });
const viewed = event('e', { name: 'Tool Viewed', owner: 'Tomasz', description: 'A tool was shown.' });

testRule(definitionCannotHold, {
  valid: [
    { name: 'conditions that can hold together', plan: planWith([viewed, definition('d', { name: 'D', where: where('all', release('is one of', '8.1', '8.2'), release('is not', '8.1')) })]) }, // prettier-ignore
    { name: 'one that unites its own name with a twin', plan: planWith([viewed, definition('d', { name: 'Tool Viewed', source: made(['Tool Viewed', 'Tool viewed']) })]) }, // prettier-ignore
    { name: 'a circle of which one is retired', plan: planWith([definition('a', { name: 'A', source: made(['B']) }), definition('b', { name: 'B', source: made(['A']), retired: true })]) }, // prettier-ignore
    { name: 'all interactions', plan: planWith([definition('d', { name: 'D', source: { of: 'interactions' } })]) },
  ],
  invalid: [
    {
      name: 'two releases at once',
      plan: planWith([viewed, definition('d', { name: 'D', where: where('all', release('is', '8.1'), release('is', '8.2')) })]),
      path: ['definition', 'd', 'where'],
      params: { name: 'D', problem: 'no message fulfils the release is “8.1” and the release is “8.2”' },
      says: '`D` takes nothing: no message fulfils the release is “8.1” and the release is “8.2”.',
      fixes: false,
    },
    {
      name: 'a circle, told once',
      plan: planWith([definition('a', { name: 'A', source: made(['B']) }), definition('b', { name: 'B', source: made(['C']) }), definition('c', { name: 'C', source: made(['A']) })]), // prettier-ignore
      path: ['definition', 'a', 'source'],
      params: { name: 'A', problem: 'it is made of itself, `A` of `B` of `C` of `A`' },
      says: '`A` takes nothing: it is made of itself, `A` of `B` of `C` of `A`.',
      fixes: false,
    },
    {
      name: 'no event',
      plan: planWith([definition('d', { name: 'D', source: made(['']) })]),
      path: ['definition', 'd', 'source'],
      params: { name: 'D', problem: 'it is made of no event' },
      says: '`D` takes nothing: it is made of no event.',
      fixes: false,
    },
  ],
});

testRule(definitionNarrowsNothing, {
  valid: [
    { name: 'no conditions: all of it is meant', plan: planWith([definition('d', { name: 'D', where: EVERYTHING })]) },
    { name: 'one that can fail', plan: planWith([definition('d', { name: 'D', where: where('any', release('is', '8.1')) })]) },
  ],
  invalid: [
    {
      name: 'either is not',
      plan: planWith([definition('d', { name: 'D', where: where('any', release('is not', '8.1'), release('is absent'), release('is', '8.1')) })]), // prettier-ignore
      path: ['definition', 'd', 'where'],
      params: { name: 'D', condition: 'the release is not “8.1” or the release is absent or the release is “8.1”' },
      says: 'Of `D`, every message fulfils the release is not “8.1” or the release is absent or the release is “8.1”.',
      fixes: false,
    },
  ],
});

const asksFor = (eventName: string) =>
  question('q', { formula: { type: 'active persons', events: [{ eventName, where: [] }], period: 'week' } });

testRule(definitionForNoQuestion, {
  valid: [
    { name: 'a question asks for it', plan: planWith([viewed, definition('d', { name: 'D' }), asksFor('D')]) },
    { name: 'another that serves is made of it', plan: planWith([viewed, definition('d', { name: 'D' }), definition('x', { name: 'X', source: made(['D']) }), asksFor('X')]) }, // prettier-ignore
    { name: 'it is kept with a reason', plan: planWith([viewed, definition('d', { name: 'D', keepReason: 'for May' })]) },
  ],
  invalid: [
    {
      name: 'nobody asks',
      plan: planWith([viewed, definition('d', { name: 'D' }), asksFor('Tool Viewed')]),
      path: ['definition', 'd', 'keepReason'],
      params: { name: 'D' },
      says: '`D` is without a question. Ask one, retire it, or write down why it is kept.',
      fixes: false,
    },
  ],
});

testRule(nameCase, {
  valid: [{ name: 'as events are named', plan: planWith([definition('d', { name: 'Photos Opened' })]) }],
  invalid: [
    {
      name: 'a definition in another case, whose questions follow',
      plan: planWith([viewed, definition('d', { name: 'photos-opened' }), asksFor('photos-opened')]),
      path: ['definition', 'd', 'name'],
      params: { name: 'photos-opened', style: 'Title Case', proposal: 'Photos Opened' },
      says: '`photos-opened` is not in Title Case.',
      fixes: true,
    },
  ],
});

testRule(nearDuplicateNames, {
  valid: [{ name: 'a definition that unites bears the event’s name', plan: planWith([viewed, definition('d', { name: 'Tool Viewed' })]) }],
  invalid: [
    {
      name: 'two definitions of one name',
      plan: planWith([definition('a', { name: 'Photos Opened' }), definition('b', { name: 'Photos Opened' })]),
      path: ['definition', 'b', 'name'],
      params: { kind: 'definition', name: 'Photos Opened', other: 'Photos Opened', likeness: 'same name' },
      says: '`Photos Opened` and `Photos Opened` are in the plan twice under the same name.',
      fixes: false,
    },
  ],
});

testRule(descriptionMissing, {
  valid: [{ name: 'a definition with one', plan: planWith([definition('d', { name: 'D' })]) }],
  invalid: [
    {
      name: 'a definition without',
      plan: planWith([definition('d', { name: 'D', description: ' ' })]),
      path: ['definition', 'd', 'description'],
      params: { kind: 'definition', name: 'D' },
      says: '`D` has no description.',
      fixes: false,
    },
  ],
});

testRule(ownerMissing, {
  valid: [{ name: 'a definition that somebody owns', plan: planWith([viewed, definition('d', { name: 'D' })]) }],
  invalid: [
    {
      name: 'a definition goes to who owns its event',
      plan: planWith([viewed, definition('d', { name: 'D', owner: '' })]),
      path: ['definition', 'd', 'owner'],
      params: { name: 'D', proposal: 'Tomasz' },
      says: '`D` has no owner.',
      fixes: true,
    },
    {
      name: 'one over interactions is nobody’s',
      plan: planWith([definition('d', { name: 'D', owner: '', source: { of: 'interactions' } })]),
      path: ['definition', 'd', 'owner'],
      params: { name: 'D', proposal: undefined },
      says: '`D` has no owner.',
      fixes: false,
    },
  ],
});
