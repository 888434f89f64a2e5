/** Names, origins and policies: which requests pass, and what a page may run. */
import { createHash } from 'node:crypto';
import { expect, test } from 'vitest';
import { isForeign, isOwnHost, pagePolicy } from '../../src/server/doors';
import { Tries } from '../../src/server/tries';

test.each([
  ['localhost:4610', true],
  ['LOCALHOST', true],
  ['127.0.0.1:80', true],
  ['[::1]:4610', true],
  ['127.0.0.1.evil.example', false],
  ['localhost.evil.example:4610', false],
  ['evil.example', false],
  ['', false],
  [null, false],
])('Host %s', (host, own) => expect(isOwnHost(host, '')).toBe(own));

test('further names are those that were given, and no others', () => {
  expect(isOwnHost('plans.example.org:443', 'plans.example.org, other.example')).toBe(true);
  expect(isOwnHost('Other.Example', 'plans.example.org, other.example')).toBe(true);
  expect(isOwnHost('example.org', 'plans.example.org, other.example')).toBe(false);
});

test.each([
  [null, false],
  ['http://127.0.0.1:4610', false],
  ['http://127.0.0.1:4611', true],
  ['https://evil.example', true],
  ['null', true],
  ['garbage', true],
  ['', true],
])('Origin %s', (origin, foreign) => expect(isForeign(origin, '127.0.0.1:4610')).toBe(foreign));

test('a page may run the scripts that are known beforehand, by their hashes, and none beside', () => {
  const policy = pagePolicy(['one()', 'two()']);
  const allowed = /script-src ([^;]*)/.exec(policy)![1]!.split(' ');
  expect(allowed).toEqual(["'self'", ...['one()', 'two()'].map((s) => `'sha256-${createHash('sha256').update(s).digest('base64')}'`)]);
  expect(policy).not.toContain("script-src 'self' 'unsafe");
});

test('so many wrong tries a minute, by address; then one waits for the next minute', () => {
  const tries = new Tries(3);
  const at = Date.parse('2026-03-01T10:00:20Z');
  for (let i = 0; i < 3; i++) {
    expect(tries.waitOf('a', at)).toBe(0);
    tries.count('a', at);
  }
  expect(tries.waitOf('a', at)).toBe(40);
  expect(tries.waitOf('b', at)).toBe(0);
  expect(tries.waitOf('a', at + 40_000)).toBe(0);
});

test('however many addresses there are, what is remembered is bounded', () => {
  const tries = new Tries(1);
  for (let i = 0; i < 25_000; i++) tries.count(`address ${i}`, 0);
  tries.count('again', 0);
  expect(tries.waitOf('again', 0)).toBeGreaterThan(0);
});
