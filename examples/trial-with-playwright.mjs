// A trial driven by a script of one's own: the web stand-in of the demo in a browser, judged by the build check.
// node examples/trial-with-playwright.mjs http://127.0.0.1:4610
import { spawnSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium } from '@playwright/test';

const origin = process.argv[2] ?? 'http://127.0.0.1:4610';
const lines = [];
const note = (line) => lines.push(line);
const done = (step) => note({ step, at: new Date().toISOString() });

const browser = await chromium.launch({ executablePath: '/usr/bin/chromium-headless-shell', chromiumSandbox: false });
const page = await browser.newPage();
// What is sent is written down as it leaves; the desk sends under a key of its own.
const sources = new Map();
page.on('response', async (response) => {
  if (!response.url().endsWith('/api/keys') || response.request().method() !== 'POST') return;
  const { key } = await response.json().catch(() => ({}));
  if (key) sources.set(key, response.request().postDataJSON().sourceId);
});
page.on('request', (request) => {
  if (request.method() !== 'POST' || !request.url().endsWith('/intake')) return;
  const key = (request.headers()['authorization'] ?? '').replace('Bearer ', '');
  for (const m of request.postDataJSON()) note({ ...m, key, received_at: new Date().toISOString() });
});

await page.goto(`${origin}/stand-ins/web`);
done('look');
await page.getByRole('button', { name: /Cordless drill/ }).click();
await page.waitForTimeout(6000);
done('sign-in');
await page.getByRole('button', { name: 'Sign in with a card' }).click();
await page.waitForTimeout(1000);
done('reserve');
await page.getByRole('button', { name: 'Reserve for 3 days' }).click();
await page.getByText('It is yours').waitFor();
await page.waitForTimeout(1000);
await page.getByRole('checkbox', { name: /desk refuses/ }).check();
done('refused');
await page.getByRole('button', { name: 'Reserve for 3 days' }).click();
await page.getByText('The desk refused').waitFor();
done('glance');
await page.getByRole('button', { name: 'All tools' }).click();
await page
  .getByRole('button', { name: /ladder/ })
  .first()
  .click();
await page.waitForTimeout(500);
await page.getByRole('button', { name: 'All tools' }).click();
await page.waitForTimeout(1000);
done('end');
await browser.close();

const at = mkdtempSync(join(tmpdir(), 'trial-'));
const file = join(at, 'trial.ndjson');
// Which source a key is of is known by now.
const told = lines.map(({ key, ...line }) => JSON.stringify(key === undefined ? line : { ...line, source_id: sources.get(key) ?? 'web' }));
writeFileSync(file, `${told.join('\n')}\n`);
const program = join(at, 'signal-post-check.mjs');
writeFileSync(program, await (await fetch(`${origin}/downloads/signal-post-check.mjs`)).text());
const r = spawnSync(process.execPath, [program, 'trial', 'Reserve a tool', file, '--plan', origin], { stdio: 'inherit' });
process.exitCode = r.status ?? 1;
