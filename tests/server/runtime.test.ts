/** What a process has once. */
import { expect, test } from 'vitest';
import { runtime } from '../../src/server/runtime';

test('what is begun once is begun once, however often the code that asks is loaded, and again after an end', async () => {
  const begun: string[] = [];
  const begin = (what: string): void => runtime.once(what, () => begun.push(what));
  for (const what of ['port', 'port', 'mailbox', 'port']) begin(what);
  expect(begun).toEqual(['port', 'mailbox']);
  await runtime.stop();
  begin('port');
  expect(begun).toEqual(['port', 'mailbox', 'port']);
  await runtime.stop();
});
