import { expect, test } from 'vitest';
import type { FindingGroup } from '../../../src/core/arrival/finding-group';
import { findingTicket } from '../../../src/core/formats/finding-ticket';
import { create, event, planWith } from '../../build/plan';

const plan = planWith([
  create('source', 's', { name: 'Hall', kind: 'web', owner: 'Ada (hall)' }),
  event('e', { name: 'Crate Moved', trigger: 'The crate stands at its new place.' }),
]);
const group: FindingGroup = {
  key: 'k',
  code: 'wrong-type',
  severity: 'stop',
  title: 'Wrong type',
  why: '',
  sentence: '`Crate Moved` came with `weight` as a number in text ("7") where the plan says number.',
  cause: 'The value is read from a field.',
  fixer: 'source',
  expected: 'number',
  received: 'text: "7"',
  fix: 'Convert `weight` to a number before sending.',
  eventName: 'Crate Moved',
  touches: ['Crate Moved'],
  sourceId: 's',
  releases: ['2.1', ''],
  count: 3,
  outOf: 40,
  firstAt: Date.UTC(2026, 10, 3),
  lastAt: Date.UTC(2026, 10, 9),
  samples: [8],
};

test('a ticket says where, since when, how many, why, how and who; a sample with fences of its own stays within its fence', () => {
  const text = findingTicket(plan, group, [{ note: '````' }], ['How heavy are crates?']);
  expect(text.split('\n')).toEqual([
    `## ${group.sentence}`,
    '',
    '- **Where:** Hall, release `2.1`',
    '- **Since:** 2026-11-03, last on 2026-11-09',
    '- **How many:** 3 of 40 messages (7.5 %)',
    '- **Expected:** number',
    '- **Received:** text: "7"',
    '- **Cause:** The value is read from a field.',
    '- **Fix:** Convert `weight` to a number before sending.',
    '- **Who:** Ada (hall)',
    '- **Plan:** The crate stands at its new place.',
    '- **Distorts:**',
    '  - How heavy are crates?',
    '',
    'Fixed when messages of `Crate Moved` keep arriving without it; the finding then closes automatically.',
    '',
    '**Examples**',
    '',
    '`````json',
    '{',
    '  "note": "````"',
    '}',
    '`````',
  ]);
});

test('what counts no messages, of a source without an owner, says only what it knows', () => {
  const text = findingTicket(plan, { ...group, eventName: '', sourceId: 'x', releases: [], count: 0, outOf: 0, firstAt: Infinity }, [], []);
  expect(text).not.toMatch(/How many|Since|Examples|Distorts|Plan/);
  expect(text).toContain('- **Where:** x\n');
  expect(text).toContain('- **Who:** the owner of the source');
});

test('what goes out in a ticket carries no personal data, neither in samples nor in sentences', () => {
  const leaking = { ...group, sentence: 'It came with `ada@example.org`.', received: 'text: "+44 20 7946 0958"' };
  const text = findingTicket(
    plan,
    leaking,
    [{ ids: { user: 'ada@example.org' }, properties: { note: ['call +44 20 7946 0958', { deep: 'GB82 WEST 1234 5698 7654 32' }] } }],
    [],
  );
  expect(text).not.toMatch(/ada@|7946|WEST/);
  expect(text).toContain('"user": "‹e-mail address›"');
  expect(text).toContain('‹telephone number›');
  expect(text).toContain('‹bank account number›');
});
