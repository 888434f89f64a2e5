import { spawnSync } from 'node:child_process';
import fc from 'fast-check';
import { expect, it, test } from 'vitest';
import { httpCall, shellWord } from '../../../src/core/formats/code/http-call';
import { placeholdersIn } from '../../../src/core/formats/code/typescript';
import { sampleMessage } from '../../../src/core/formats/ticket';
import { compileChecker } from '../../../src/core/arrival/compile';
import { readMessage } from '../../../src/core/arrival/message';
import { event, planWith, property } from '../../build/plan';
import { demoPlan } from '../../build/demo-plan';

it('a word is what it was, to a POSIX shell, apostrophes and line feeds included', () => {
  fc.assert(
    fc.property(
      fc.string({ maxLength: 30 }).filter((s) => !s.includes('\0')),
      (text) => {
        const r = spawnSync('sh', ['-c', `printf %s ${shellWord(text)}`], { encoding: 'utf8' });
        expect(r.stdout).toBe(text);
      },
    ),
    { numRuns: 40 },
  );
});

it('a call survives an apostrophe in a sample', () => {
  const plan = planWith([
    property('a', { samples: ["Maker's mark"] }),
    event('e', { name: "It's Sent", properties: [{ propertyId: 'a', required: true }] }),
  ]);
  const call = httpCall(plan, plan.event['e']!, undefined, 'https://post.example.org').replace('curl', 'printf "%s\\n"');
  const r = spawnSync('sh', ['-c', call], { encoding: 'utf8' });
  expect(JSON.parse(r.stdout.slice(r.stdout.indexOf('[')))).toEqual([
    JSON.parse(JSON.stringify(sampleMessage(plan, plan.event['e']!, undefined))),
  ]);
});

test('everything to be replaced is found when it arrives unreplaced: one field at a time', () => {
  const plan = demoPlan();
  const e = plan.event['tool-viewed']!;
  const checker = compileChecker(plan);
  const sample = sampleMessage(plan, e, plan.source['web']);
  const filled = {
    ...sample,
    id: 'm-1',
    time: '2026-03-01T09:30:00Z',
    release: '9.0',
    page: '/tools/1',
    ids: { anonymous: 'a-1f', user: 'm-10442' },
  };
  const codesOf = (m: unknown): string[] => {
    const read = readMessage(m);
    return read.ok ? checker.check(read.message).map((f) => `${f.code} ${f.path.join('.')}`) : [read.rejected.reason];
  };
  expect(codesOf(filled)).toEqual([]);
  expect(codesOf({ ...filled, id: '{{message_id}}' })).toEqual(['placeholder-value id']);
  expect(codesOf({ ...filled, release: '{{release}}' })).toEqual(['placeholder-value release']);
  expect(codesOf({ ...filled, page: '{{page}}' })).toEqual(['placeholder-value page']);
  expect(codesOf({ ...filled, time: '{{time}}' })).toEqual(['time not RFC 3339']);
  expect(codesOf({ ...filled, ids: { anonymous: 'a-1f', user: '{{user_id}}' } })).toEqual(['placeholder-value ids.user']);
  // A release may be called as it likes.
  for (const release of ['test', '0', 'none', '1.0', '(beta)']) expect(codesOf({ ...filled, release })).toEqual([]);
  expect(placeholdersIn(JSON.stringify(sample)).sort()).toEqual(['anonymous_id', 'message_id', 'release', 'time', 'user_id']);
});
