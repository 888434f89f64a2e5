/** Trials with the stand-ins, their faults on and off; and the same run offline, on what was kept of it. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test, type FrameLocator, type Locator, type Page } from '@playwright/test';

const PROGRAM = 'dist/client/downloads/signal-post-check.mjs';

const post = async (page: Page, path: string, body: unknown): Promise<unknown> => {
  const r = await page.request.post(path, { data: body });
  if (!r.ok()) throw new Error(`${path}: ${r.status()} ${await r.text()}`);
  return r.json();
};

/** Opens a trial with the stand-in beside it; who is at work is the anonymous ID of the stand-in. */
const opened = async (page: Page, trial: string): Promise<{ shop: FrameLocator; who: string }> => {
  await page.goto(`/arrivals/trials:${trial}`);
  await page.getByRole('button', { name: 'Stand-in' }).click();
  const shop = page.frameLocator('iframe[title="Stand-in: web catalogue"]');
  const who = await shop.getByText(/^a-[0-9a-f]{12}$/).textContent();
  return { shop, who: who! };
};

const begun = async (page: Page, who: string): Promise<string> => {
  await page.getByRole('button', { name: 'Run …' }).click();
  const form = page.getByRole('form', { name: 'Run this trial' });
  await form.getByLabel('Your identifier').fill(who);
  await form.getByRole('button', { name: 'Begin', exact: true }).click();
  await expect(page.getByText(`Only ${who} in production`)).toBeVisible();
  return page.url().split(':').at(-1)!;
};

const step = (page: Page, n: number): Locator => page.getByRole('listitem', { name: `Step ${n}` });
/** What is done next comes of the step only when it is known to have begun. */
const begin = async (page: Page, n: number): Promise<void> => {
  const marked = page.waitForResponse((r) => r.url().endsWith('/api/trial-marks'));
  await step(page, n)
    .getByRole('button', { name: /^(Begin|Do it again)$/ })
    .click();
  await marked;
};
const is = (page: Page, n: number, word: RegExp | string): Promise<void> => expect(step(page, n).getByRole('status')).toHaveText(word);
const fault = (shop: FrameLocator, text: RegExp): Locator => shop.getByRole('checkbox', { name: text });

const GUIDE = {
  name: 'Read a guide',
  about: '',
  flow: 'Discover',
  owner: '',
  retired: false,
  steps: [
    {
      id: 'read',
      does: 'Read the safety guide to the end.',
      inOrder: true,
      waitMs: 5000,
      forbids: [],
      expects: ['25', '50', '75', '100'].map((value) => ({
        event: 'Guide Read',
        min: 1,
        max: 1,
        sources: [],
        ids: [],
        values: [{ property: 'guide_share', wanted: { is: 'exactly', value } }],
      })),
    },
    { id: 'again', does: 'Go back and forth.', inOrder: false, waitMs: 3000, forbids: ['Guide Read'], expects: [] },
    { id: 'scope', does: 'Read the house rules.', inOrder: false, waitMs: 3000, forbids: ['Guide Read'], expects: [] },
  ],
};

test('a reservation is tried step by step: everything right, then evidence, then verified; the offline verdict is the same', async ({
  page,
}) => {
  const { shop, who } = await opened(page, 'reserve-a-tool');
  const runId = await begun(page, who);
  // L1: before anything is done, none of it comes.
  await page.getByRole('button', { name: 'Record a baseline' }).click();
  await expect(page.getByRole('status', { name: 'Baseline' })).toHaveText(/waiting|clean/);
  await begin(page, 1);
  await expect(page.getByRole('status', { name: 'Baseline' })).toHaveText('Baseline: clean');
  await shop.getByRole('button', { name: /Cordless drill/ }).click();
  await is(page, 1, /waiting|passed/);
  await expect(step(page, 1).getByText('Tool Viewed').nth(1)).toBeVisible();
  // L4: not signed in, others may share the device.
  await expect(page.getByText('Not signed in: others who use this device may be taken for you.')).toBeVisible();
  await begin(page, 2);
  await is(page, 1, 'passed');
  await shop.getByRole('button', { name: 'Sign in with a card' }).click();
  await is(page, 2, /waiting|passed/);
  await begin(page, 3);
  await shop.getByRole('button', { name: 'Reserve for 3 days' }).click();
  await expect(step(page, 3).getByText('release 2026.9')).toBeVisible();
  // L2: an action that fails causes none of what is completed.
  await fault(shop, /desk refuses/).check();
  await begin(page, 4);
  await is(page, 3, 'passed');
  await shop.getByRole('button', { name: 'Reserve for 3 days' }).click();
  await expect(shop.getByText('The desk refused: it is out.')).toBeVisible();
  await begin(page, 5);
  await shop.getByRole('button', { name: 'All tools' }).click();
  await is(page, 4, 'passed');
  await is(page, 5, 'passed');
  await page.getByRole('button', { name: 'End the run' }).click();
  // L7: evidence, in three forms, and the state of the build.
  await expect(page.getByRole('status', { name: 'State of the run' })).toHaveText('passed');
  await expect(page.getByText(/^Verified: .*Tool Viewed \(Web catalogue 9\.0\.0\)/)).toBeVisible();
  const evidence = async (format: string): Promise<string> =>
    (await page.request.get(`/api/trial-evidence?id=${runId}&format=${format}`)).text();
  expect(await evidence('md')).toContain('# Trial “Reserve a tool”: passed');
  expect(await evidence('junit')).toMatch(/<testsuite name="Reserve a tool" tests="6" failures="0"/);
  const at = mkdtempSync(join(tmpdir(), 'trial-'));
  writeFileSync(join(at, 'run.ndjson'), await evidence('ndjson'));
  writeFileSync(join(at, 'plan.json'), await (await page.request.get('/api/plan.json')).text());
  const offline = spawnSync(
    process.execPath,
    [PROGRAM, 'trial', 'Reserve a tool', join(at, 'run.ndjson'), '--plan', join(at, 'plan.json'), '-o', 'json'],
    { encoding: 'utf8' },
  );
  expect([offline.status, (JSON.parse(offline.stdout) as { title: string }).title]).toEqual([0, 'Trial “Reserve a tool”: passed']);
  await page.goto('/hand-off/view:progress');
  await page.getByLabel('Filter by event, source or what waits').fill('Tool Viewed');
  await expect(page.getByRole('row', { name: /Tool Viewed.*Web catalogue.*verified.*9\.0\.0/ })).toBeVisible();
});

test('faults of the stand-in: twice, on the press, as text, by template; each is told at its step, and its retest says that the old release runs', async ({
  page,
}) => {
  const { shop, who } = await opened(page, 'reserve-a-tool');
  const runId = await begun(page, who);
  // A second tester with the same identifier would be told apart from nobody.
  const busy = await page.request.post('/api/trial-runs', {
    data: { trialId: 'reserve-a-tool', tester: { by: 'identifier', value: who }, environment: 'production', author: 'Ada' },
  });
  expect([busy.status(), ((await busy.json()) as { detail: string }).detail.includes('messages of two runs cannot be told apart')]).toEqual(
    [409, true],
  );
  await fault(shop, /“Tool Viewed” twice/).check();
  await fault(shop, /deposit as text/).check();
  await begin(page, 1);
  await shop.getByRole('button', { name: /Cordless drill/ }).click();
  await is(page, 1, 'failed');
  await expect(step(page, 1).getByText('came twice for one action.')).toBeVisible();
  await expect(
    step(page, 1)
      .getByText(/a number in text/)
      .first(),
  ).toBeVisible();
  // L6: the same release sends it as before.
  await fault(shop, /“Tool Viewed” twice/).uncheck();
  await shop.getByRole('button', { name: 'All tools' }).click();
  await begin(page, 1);
  await shop.getByRole('button', { name: /Cordless drill/ }).click();
  await expect(step(page, 1).getByText('Release 9.0.0 sent it, as in the try before: the old release is still running.')).toBeVisible({});
  await fault(shop, /deposit as text/).uncheck();
  await fault(shop, /on the press/).check();
  await fault(shop, /desk refuses/).check();
  await begin(page, 4);
  await shop.getByRole('button', { name: 'Reserve for 3 days' }).click();
  await is(page, 4, 'failed');
  await expect(step(page, 4).getByText('Reservation Requested').first()).toBeVisible();
  // L5: a step of the walk that causes nothing is a gap; one that cannot be done has its reason.
  await begin(page, 2);
  await step(page, 5).getByRole('button', { name: 'Skip …' }).click();
  await step(page, 5).getByLabel('Why step 5 is skipped').fill('No second tool.');
  await step(page, 5).getByRole('button', { name: 'Skip step' }).click();
  await is(page, 2, /gap/);
  await expect(step(page, 5).getByText('No second tool.')).toBeVisible();
  await page.getByRole('button', { name: 'End the run' }).click();
  await expect(page.getByRole('status', { name: 'State of the run' })).toHaveText('failed');
  const xml = await (await page.request.get(`/api/trial-evidence?id=${runId}&format=junit`)).text();
  expect(xml).toContain('the old release is still running');
  // A run that ended takes nothing more, and its evidence stays.
  expect((await page.request.post('/api/trial-marks', { data: { id: runId, step: 'look' } })).status()).toBe(409);
});

test('milestones: each once and in order, none by going back and forth, none out of scope; not published says so', async ({ page }) => {
  const draft = (await (await page.request.get('/api/workplace')).json()) as { plan: { trial: Record<string, unknown> } };
  if (!draft.plan.trial['guide-trial'])
    await post(page, '/api/edits', { edits: [{ op: 'create', kind: 'trial', id: 'guide-trial', body: GUIDE }], label: 'A trial' });
  const { shop, who } = await opened(page, 'guide-trial');
  await page.getByRole('button', { name: 'Run …' }).click();
  const form = page.getByRole('form', { name: 'Run this trial' });
  await form.getByLabel('Your identifier').fill(who);
  await form.getByLabel('by').selectOption('draft');
  await form.getByRole('button', { name: 'Begin', exact: true }).click();
  await expect(page.getByText(/^Not published: a pass does not count/)).toBeVisible();
  const read = async (next: readonly string[]): Promise<void> => {
    for (const name of next) await shop.getByRole('button', { name }).click();
  };
  await shop.getByRole('button', { name: /Cordless drill/ }).click();
  await shop.getByRole('button', { name: 'Safety guide' }).click();
  await begin(page, 1);
  await read(['Next part', 'Next part', 'Next part', 'Next part']);
  await expect(step(page, 1).getByText('is 100')).toBeVisible();
  await is(page, 1, /waiting|passed/);
  await begin(page, 2);
  await read(['Back', 'Back', 'Next part']);
  await is(page, 2, 'passed');
  await begin(page, 3);
  await shop.getByRole('button', { name: 'Close' }).click();
  await shop.getByRole('button', { name: 'House rules' }).click();
  await read(['Next part', 'Next part']);
  await is(page, 3, 'passed');
  await is(page, 1, 'passed');
  // The faults on: each step says what is wrong.
  await fault(shop, /again when going back/).check();
  await fault(shop, /house rules for a guide/).check();
  await begin(page, 3);
  await read(['Next part']);
  await is(page, 3, 'failed');
  await shop.getByRole('button', { name: 'Close' }).click();
  await shop.getByRole('button', { name: 'Safety guide' }).click();
  await begin(page, 2);
  await read(['Next part', 'Next part', 'Back']);
  await is(page, 2, 'failed');
  await page.getByRole('button', { name: 'End the run' }).click();
  await expect(page.getByText(/^Verified:/)).toHaveCount(0);
});

test('several testers at once do not disturb one another; one without any identifier is asked for one', async ({ page }) => {
  const { shop, who } = await opened(page, 'reserve-a-tool');
  await begun(page, who);
  await begin(page, 1);
  // Somebody else does the same meanwhile.
  const key = ((await post(page, '/api/keys', { sourceId: 'web', label: 'another tester' })) as { key: string }).key;
  const tool = { tool_id: 'T-0412', tool_name: 'Cordless drill 18 V', tool_category: 'drills', branch: 'Quayside', deposit: 2500 };
  for (let n = 0; n < 3; n++)
    await page.request.post('/intake', {
      headers: { authorization: `Bearer ${key}` },
      data: [
        {
          id: `other-${Date.now()}-${n}`,
          name: 'Tool Viewed',
          time: new Date().toISOString(),
          ids: { anonymous: 'a-0123456789ab' },
          properties: tool,
          release: '9.0.0',
        },
      ],
    });
  await shop.getByRole('button', { name: /Cordless drill/ }).click();
  await expect(step(page, 1).getByText('Tool Viewed').nth(1)).toBeVisible();
  await is(page, 1, 'passed');
  await page.getByRole('button', { name: 'End the run' }).click();
  const nobody = await page.request.post('/api/trial-runs', {
    data: { trialId: 'reserve-a-tool', tester: { by: 'identifier', value: ' ' }, environment: 'production' },
  });
  expect([nobody.status(), (await nobody.text()).includes('Say who you are')]).toEqual([400, true]);
});

test('a name that goes over the wire copies exactly from where it is shown: twice with the mouse, or by a key', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  const clipboard = (): Promise<string> => page.evaluate(() => navigator.clipboard.readText());
  await page.goto('/hand-off/reservation-requested');
  await page.getByRole('main').getByText('request_id', { exact: true }).first().dblclick();
  await expect.poll(clipboard).toBe('request_id');
  await page.getByRole('button', { name: /^Guide Read/ }).focus();
  await page.keyboard.press('c');
  await expect.poll(clipboard).toBe('Guide Read');
});

test('by keyboard: a trial is drafted for an event, a step is moved and removed, and undone', async ({ page }) => {
  await page.goto('/arrivals/trials');
  await page.getByLabel('Draft a trial').focus();
  await page.keyboard.type('Tool Viewed');
  await page.keyboard.press('Enter');
  await page.getByLabel('Draft a trial').selectOption({ label: 'Tool Viewed' });
  await expect(page.getByLabel('Name of the trial')).toHaveValue('Tool Viewed');
  const steps = page.getByRole('region', { name: 'Steps' }).getByRole('listitem');
  const count = await steps.count();
  expect(count).toBeGreaterThan(2);
  const first = await page.getByLabel('What is done in step 1').inputValue();
  await page.getByRole('button', { name: 'Move step 1 down' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('What is done in step 2')).toHaveValue(first);
  await page.getByRole('button', { name: 'Duplicate step 2' }).focus();
  await page.keyboard.press('Enter');
  await expect(steps).toHaveCount(count + 1);
  await page.getByRole('button', { name: 'Remove step 3' }).focus();
  await page.keyboard.press('Enter');
  await expect(steps).toHaveCount(count);
});
