/** Every main view: no accessibility finding in either theme, nothing outside the window, and what it says when things are empty or wrong. */
import { AxeBuilder } from '@axe-core/playwright';
import { expect, test } from '@playwright/test';

const VIEWS = [
  '/questions',
  '/questions/coverage',
  '/questions/borrower-retention',
  '/plan',
  '/plan/naming',
  '/plan/rules',
  '/plan/arrival-checks:double-fire',
  '/plan/workspace',
  '/plan/findings',
  '/plan/suggestions',
  '/plan/limits',
  '/plan/read',
  '/plan/versions',
  '/plan/proposals',
  '/plan/activity',
  '/plan/files',
  '/plan/open:event:tool-viewed',
  '/identity',
  '/identity/bench',
  '/identity/health',
  '/identity/situations',
  '/identity/person',
  '/identity/what-if',
  '/hand-off/tool-viewed',
  '/arrivals',
  '/arrivals/matrix',
  '/arrivals/logbook',
  '/arrivals/volume',
  '/arrivals/counts',
  '/arrivals/profile',
  '/arrivals/pairs',
  '/arrivals/drift',
  '/arrivals/file',
  '/arrivals/refused',
  '/arrivals/user',
  '/arrivals/retests',
  '/clearance',
  '/stand-ins/web',
  '/stand-ins/phone',
  '/stand-ins/kiosk',
  '/stand-ins/backend',
];

/** By night each kind of part is looked at once; the others have the same colours. */
const BY_NIGHT: readonly string[] = [
  '/questions',
  '/questions/coverage',
  '/plan',
  '/plan/findings',
  '/plan/proposals',
  '/plan/open:event:tool-viewed',
  '/identity',
  '/identity/bench',
  '/identity/health',
  '/hand-off/tool-viewed',
  '/arrivals',
  '/arrivals/matrix',
  '/arrivals/profile',
  '/clearance',
];

for (const theme of ['day', 'night'])
  test(`axe finds nothing, ${theme} theme`, async ({ page }) => {
    await page.addInitScript((t) => localStorage.setItem('signal-post-theme', t), theme);
    const found: string[] = [];
    for (const view of VIEWS) {
      if (theme === 'night' && !BY_NIGHT.includes(view)) continue;
      await page.goto(view);
      await expect(page.getByText(/^Loading/)).toHaveCount(0, { timeout: 20_000 });
      await page.locator('main, [role=grid]').first().waitFor();
      await page.waitForTimeout(250);
      const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']).analyze();
      for (const v of violations)
        found.push(
          `${view} ${v.id}: ${v.nodes
            .slice(0, 3)
            .map((n) => `${n.html.slice(0, 160)} ${n.failureSummary}`)
            .join(' | ')}`,
        );
      const overflow = await page.evaluate(() => document.documentElement.scrollWidth - innerWidth);
      if (overflow > 0) found.push(`${view} is ${overflow} px too wide`);
    }
    expect(found).toEqual([]);
  });

test('a server that does not answer is said so, and tried again by itself', async ({ page }) => {
  await page.route('**/api/workplace*', (route) => route.abort());
  await page.goto('/plan');
  await expect(page.getByRole('alert')).toContainText('The server cannot be reached just now.');
  await page.unroute('**/api/workplace*');
  await expect(page.getByRole('grid', { name: 'Events' })).toBeVisible();
});

test('while the database is away the page says so, keeps what it shows, and recovers', async ({ page }) => {
  await page.goto('/clearance');
  await expect(page.getByRole('table', { name: 'The seven gates' })).toBeVisible();
  await page.route('**/api/findings', (route) => route.fulfill({ status: 503, json: { error: 'database unavailable', detail: 'away' } }));
  await expect(page.getByText('not up to date, trying again')).toBeVisible({ timeout: 20_000 });
  await expect(page.getByRole('table', { name: 'The seven gates' })).toBeVisible();
  await page.unrouteAll({ behavior: 'wait' });
  await expect(page.getByText('not up to date, trying again')).toBeHidden({ timeout: 20_000 });
});

test('what is not there any more, and a filter that nothing passes, say so', async ({ page }) => {
  await page.goto('/questions/gone');
  await expect(page.getByText('This question is not here any more.')).toBeVisible();
  await page.goto('/plan');
  await page.getByLabel('Filter the events').fill('zzz');
  await expect(page.getByText('Nothing passes the filter.')).toBeVisible();
  await page.goto('/arrivals');
  await page.getByLabel('Filter by event, source or identifier').fill('zzz');
  await expect(page.getByText('Nothing passes the filter.')).toBeVisible();
});

test('a view that cannot be drawn says so; the line and the other stations work on', async ({ page }) => {
  await page.route('**/api/findings', async (route) => {
    const answer = (await (await route.fetch()).json()) as { groups: object[] };
    await route.fulfill({ json: { ...answer, groups: answer.groups.map((g) => ({ ...g, sentence: undefined })) } });
  });
  await page.goto('/arrivals');
  await expect(page.getByText('This view could not be drawn.')).toBeVisible();
  await page
    .getByRole('navigation', { name: 'Stations' })
    .getByRole('link', { name: /^Questions/ })
    .click();
  await expect(page.getByRole('button', { name: /Weekly active borrowers/ })).toBeVisible();
  await page.unrouteAll({ behavior: 'wait' });
  await page
    .getByRole('navigation', { name: 'Stations' })
    .getByRole('link', { name: /^Arrivals/ })
    .click();
  await expect(async () => {
    const again = page.getByRole('button', { name: 'Draw it again' });
    if (await again.isVisible()) await again.click();
    await expect(page.getByRole('button', { name: /^Clock runs ahead/ })).toBeVisible({ timeout: 2000 });
  }).toPass();
});
