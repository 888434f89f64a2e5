import { expect, test } from 'vitest';
import { planStampOf, stampText } from '../../../src/core/arrival/plan-stamp';

test('a stamp is read as typed calls write it, and anything else is none', () => {
  expect(planStampOf({ plan: { version: 4, hash: 'abc', more: 1 } })).toEqual({ version: 4, hash: 'abc' });
  for (const plan of [
    undefined,
    null,
    4,
    'v4',
    {},
    { version: '4', hash: 'a' },
    { version: 4.5, hash: 'a' },
    { version: -1, hash: 'a' },
    { version: 4 },
  ])
    expect(planStampOf({ plan })).toBeUndefined();
  expect(planStampOf({ plan: { version: 1, hash: 'x'.repeat(5000) } })!.hash).toHaveLength(200);
});

test('it says whether a build is behind, and whether it is of another workspace', () => {
  const now = { number: 5, contentHash: 'e' };
  expect(stampText({ version: 5, hash: 'e' }, now)).toBe('built from version 5, the one in force');
  expect(stampText({ version: 4, hash: 'd' }, now)).toBe('built from version 4; 5 is in force');
  expect(stampText({ version: 5, hash: 'z' }, now)).toContain('another workspace');
  expect(stampText({ version: 9, hash: 'e' }, now)).toContain('another workspace');
  expect(stampText({ version: 0, hash: 'e' }, now)).toBe('built from a draft');
  expect(stampText({ version: 3, hash: 'e' }, null)).toBe('built from version 3');
});
