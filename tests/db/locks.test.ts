/** Two things under one lock would wait for each other, and two processes that wait crosswise would not end. */
import { readdirSync, readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { LOCKS } from '../../src/db/locks';

const sources = readdirSync('src', { recursive: true, encoding: 'utf8' })
  .filter((f) => f.endsWith('.ts'))
  .map((f) => ({ f, text: readFileSync(`src/${f}`, 'utf8') }));

it('gives each lock a number of its own', () => {
  const numbers = Object.values(LOCKS);
  expect(new Set(numbers).size).toBe(numbers.length);
});

it('is the only file with numbers of locks, but for the migrations, which use those of the list', () => {
  const used = sources.flatMap(({ f, text }) =>
    [...text.matchAll(/advisory_(?:xact_)?lock\((\$\{[^}]*\}|\$1|\d+)/g)].map((m): [string, string] => [f, m[1]!]),
  );
  expect(used.length).toBeGreaterThan(3);
  for (const [f, key] of used) {
    if (/^\d+$/.test(key))
      expect([f, /migrations/.test(f), (Object.values(LOCKS) as number[]).includes(Number(key))]).toEqual([f, true, true]);
    else expect([f, key]).toEqual([f, expect.stringMatching(/^\$(\{LOCKS\.\w+\}|1)$/)]);
  }
});
