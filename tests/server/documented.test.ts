/** What the documents show is done as they show it: messages are sent by the line that stands there, and files are what they say. */
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { ENDPOINTS } from '../../src/core/api/index';
import { built, runIn } from '../cli/program';
import { testDatabase } from '../build/database';
import { endProcess, startProcess, type Running } from '../build/server';
import { smallWorkspace } from '../build/workspace';

let server: Running;
let key: string;
beforeAll(async () => {
  server = await startProcess(await testDatabase('documented_test', 'empty'));
  key = await smallWorkspace(server.url);
});
afterAll(() => endProcess(server, 'SIGTERM'));

const readme = readFileSync('README.md', 'utf8');
const blocks = (language: string): string[] => [...readme.matchAll(new RegExp(`\`\`\`${language}\\n([\\s\\S]*?)\`\`\``, 'g'))].map((m) => m[1]!); // prettier-ignore

test('the line by which a message is sent sends one', () => {
  const [line = ''] = blocks('sh').filter((b) => b.includes('curl') && b.includes('/intake'));
  const own = line.replaceAll('http://127.0.0.1:4610', server.url).replaceAll('YOUR_KEY', key);
  expect(own).not.toBe(line);
  const r = spawnSync('bash', ['-euc', own], { encoding: 'utf8' });
  expect(JSON.parse(r.stdout)).toMatchObject({ answers: [{ answer: expect.stringMatching(/^accepted/) as string }] });
});

test('commands of the build check that are documented are commands of it, and its help names all that it has', () => {
  const { out, code } = runIn(built(), '.', ['--help']);
  expect(code).toBe(0);
  const has = [...out.matchAll(/^ {2}(\w+)/gm)].map((m) => m[1]!);
  const doc = readFileSync('docs/build-check.md', 'utf8');
  const named = [...doc.matchAll(/signal-post-check\.mjs (\w+)/g), ...doc.matchAll(/^\| `(\w+) /gm)].map((m) => m[1]!);
  expect(named.length).toBeGreaterThan(8);
  for (const command of named) expect([command, has.includes(command)]).toEqual([command, true]);
});

test('addresses that the README names are answered', async () => {
  const named = [...new Set([...readme.matchAll(/`(\/(?:api|downloads|answers|stand-ins|reference)[\w./-]*)`/g)].map((m) => m[1]!))];
  expect(named.length).toBeGreaterThan(5);
  const posts = new Set<string>(ENDPOINTS.filter((e) => e.method === 'POST').map((e) => e.path));
  for (const path of named) {
    const { status } = await fetch(server.url + path.replace('EVENT_ID', 'posted').replace('QUESTION_ID', 'none'));
    // Some ask for a token, or for a question that this workspace does not have; some only take.
    expect([path, [200, 401, 404].includes(status) || (posts.has(path) && status === 405)]).toEqual([path, true]);
    if (status === 404) expect([path, path.includes('QUESTION_ID')]).toEqual([path, true]);
  }
});
