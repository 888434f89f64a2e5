/** Values that stand for nobody. Source of the words: common practice, no source; each is a value that templates, conversions or tests leave. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { isPlaceholder, isPlaceholderId } from '../../../src/core/identity/placeholder';

const NOBODY =
  `demo|(null)|nil|__USER_ID__|#{user_id}|<user_id>|[[user]]|:userId|-|false|your_user_id|{{member_id}}|\${user.id}|%USER%|null|undefined
|NaN|[object Object]|0|00000000-0000-0000-0000-000000000000|ffffffff-ffff-ffff-ffff-ffffffffffff|anonymous|Guest|N/A|test|TEST_USER|user_id|userId|none|unknown|not set|<id>|%s|{0}|
| |---|???|<%= id %>|insert-user-id-here|xxx`
    .replaceAll('\n', '')
    .split('|');
const SOMEBODY = [
  'm-00001', 'u_1', '1', '42', '100200', 'ada', 'demetra', 'nullarbor', 'testament', 'guesthouse-7', '7f3c2a1e-88d1-4c55-9e43-0b1de2a6f901', 'usr:44',
  'ada@example.org', 'x1', 'f0000001', 'idris', 'user-1', 'none-such', 'v-crawler-7', 'your-1', 'myra', 'Ilse', 'Ø', '用户', '0x1', '-1-2', 'a:b', 'some-body-1',
]; // prettier-ignore

test.each(NOBODY)('“%s” is nobody', (v) => {
  expect(isPlaceholderId(v)).toBe(true);
  // Blanks around it do not help.
  expect(isPlaceholderId(` ${v} `)).toBe(true);
});
test.each(SOMEBODY)('“%s” may be somebody', (v) => expect(isPlaceholderId(v)).toBe(false));

test('identifiers as they are made are never taken for placeholders', () => {
  fc.assert(
    fc.property(
      fc.oneof(
        fc.uuid({ version: [4, 7] }),
        fc.integer({ min: 1 }).map(String),
        fc.integer({ min: 1 }).map((n) => `m-${n}`),
      ),
      (v) => {
        expect(isPlaceholderId(v)).toBe(false);
      },
    ),
    { seed: 19, numRuns: 2000 },
  );
});

test('what is a placeholder as any value is one as an identifier', () => {
  fc.assert(
    fc.property(fc.oneof(fc.constantFrom(...NOBODY), fc.string()), (v) => {
      if (isPlaceholder(v)) expect(isPlaceholderId(v)).toBe(true);
    }),
    { seed: 20, numRuns: 1000 },
  );
});
