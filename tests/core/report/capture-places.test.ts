/** Where a capture's messages are, over many files; and how many a file of lines holds, told beforehand. */
import { appendFileSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { aboutHowMany } from '../../../src/cli/input/captured';
import { DEFAULT_SETTINGS } from '../../../src/core/plan/defaults';
import { emptyPlan } from '../../../src/core/plan/plan';
import { CaptureJudge } from '../../../src/core/report/events-report';

test('at random, over files that take turns: each finding is where its message is', () => {
  fc.assert(
    fc.property(
      fc.array(fc.record({ file: fc.constantFrom('a', 'b', 'c'), again: fc.boolean() }), { minLength: 1, maxLength: 30 }),
      fc.nat(100),
      (sent, expected) => {
        const judge = new CaptureJudge(emptyPlan(DEFAULT_SETTINGS));
        judge.expect(expected);
        const where = new Map<string, { file: string; line?: number }>();
        for (const [i, { file, again }] of sent.entries()) {
          const place = i % 3 === 0 ? { file } : { file, line: i + 1 };
          // Each name is one finding of its own; a message that came before has no place.
          const n = again && i > 0 ? i - 1 : i;
          const value = {
            id: `m-${n}`,
            name: `Stray ${n}`,
            time: '2026-03-01T10:00:00Z',
            ids: { anonymous: 'a' },
            properties: {},
            release: '1',
          };
          judge.add({ value, place, sourceId: 'web', receivedAt: Date.UTC(2026, 2, 1, 10) });
          if (!where.has(value.name)) where.set(value.name, place);
        }
        const { results } = judge.report('', Date.UTC(2026, 2, 2));
        const told = results.filter((r) => r.code === 'unknown-event').map((r) => [r.subject, r.places] as const);
        expect(new Map(told)).toEqual(new Map([...where].map(([name, place]) => [name, [place]])));
      },
    ),
  );
});

test('a file of lines says about how many it holds; what is of another form, however many lines it has, says nothing', async () => {
  const at = mkdtempSync(join(tmpdir(), 'signal-post-lines-'));
  const path = (name: string): string => join(at, name);
  const message = { name: 'E', properties: { text: 'x'.repeat(200) } };
  const line = `${JSON.stringify(message)}\n`;
  writeFileSync(path('short'), line.repeat(37));
  writeFileSync(path('long'), '');
  for (let i = 0; i < 10; i++) appendFileSync(path('long'), line.repeat(2000));
  writeFileSync(path('list'), `[\n${line},\n${line}]\n`);
  // As they are written out for people: thousands of lines of one body, or of a browser's run.
  writeFileSync(path('body'), JSON.stringify({ messages: Array.from({ length: 500 }, () => message) }, null, 2));
  writeFileSync(path('run.har'), JSON.stringify({ log: { entries: Array.from({ length: 500 }, () => message) } }, null, 2));
  writeFileSync(path('empty'), '');
  expect(await aboutHowMany([path('short')])).toBe(37);
  // What stands behind the first stretch goes by what stands in it.
  expect(await aboutHowMany([path('long')])).toBe(readFileSync(path('long'), 'utf8').split('\n').length - 1);
  expect(await aboutHowMany([path('short'), path('long')])).toBe(20_037);
  for (const other of ['list', 'body', 'run.har', 'empty']) expect([other, await aboutHowMany([path(other)])]).toEqual([other, 0]);
  expect(await aboutHowMany(['-'])).toBe(0);
  await expect(aboutHowMany([path('absent')])).rejects.toThrow('there is no such file');
});
