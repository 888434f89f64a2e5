/** The examples are run as they are shown. */
import { spawn } from 'node:child_process';
import { expect, test } from '@playwright/test';

test('a trial that a script drives in a browser is passed by the build check', async ({ baseURL }) => {
  const child = spawn(process.execPath, ['examples/trial-with-playwright.mjs', baseURL!], { stdio: ['ignore', 'pipe', 'pipe'] });
  let said = '';
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (part: Buffer) => (said += part.toString()));
  const code = await new Promise((done) => child.once('exit', done));
  expect(said).toContain('Reserve a tool');
  expect([code, code === 0 ? '' : said]).toEqual([0, '']);
});
