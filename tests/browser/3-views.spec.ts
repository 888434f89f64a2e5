/** Every main view: no accessibility finding in either theme, nothing outside the window, and what it says when things are empty or wrong. */
import { gzipSync } from 'node:zlib';
import { AxeBuilder } from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { PHRASES } from '../phrases';
import { open, stands } from '../build/browser';

const VIEWS: readonly string[] = [
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
  '/arrivals/live',
  '/arrivals/matrix',
  '/arrivals/logbook',
  '/arrivals/volume',
  '/arrivals/counts',
  '/arrivals/profile',
  '/arrivals/pairs',
  '/arrivals/drift',
  '/arrivals/file',
  '/arrivals/rejected',
  '/arrivals/user',
  '/arrivals/follow-ups',
  '/clearance',
  '/clearance/alerts',
  '/api',
  '/stand-ins/web',
  '/stand-ins/phone',
  '/stand-ins/kiosk',
  '/stand-ins/backend',
];

/** Each kind of part, once: by night the others have the same colours. */
const KINDS_OF_PARTS: readonly string[] = [
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
  '/clearance/alerts',
];

/** What opens over a view: where, and the keys or the button that open it. */
const DIALOGS: readonly (readonly [string, string, (page: Page) => Promise<void>])[] = [
  ['the palette', '/questions', (page) => page.keyboard.press('Control+k')],
  ['the shortcuts', '/questions', (page) => page.keyboard.press('?')],
  ['the choice of traffic', '/questions', (page) => page.getByRole('button', { name: /^production/ }).click()],
  ['publishing', '/plan', (page) => page.getByRole('button', { name: /^Publish version/ }).click()],
  ['the choice of columns', '/plan', (page) => page.getByRole('button', { name: 'Choose columns' }).click()],
  ['find and replace', '/plan', (page) => page.getByRole('button', { name: 'Find and replace' }).click()],
  ['removing an event', '/plan/event:tool-viewed', (page) => page.getByRole('button', { name: 'Remove the chosen event' }).click()],
  ['a new key', '/hand-off/tool-viewed', (page) => page.getByRole('button', { name: 'New key …' }).click()],
  [
    'a calendar',
    '/arrivals/drift',
    (page) =>
      page
        .getByRole('button', { name: /calendar/i })
        .first()
        .click(),
  ],
];

const RULES = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'];
/** By night the parts are the same and the colours are others. */
const inTheme = (page: Page, theme: 'day' | 'night'): Promise<void> =>
  page.evaluate((t) => void (document.documentElement.dataset['theme'] = t), theme);

/** What axe finds on a page as it stands, by day with all rules, by night with that of contrast. */
const axeFinds = async (page: Page, what: string, themes: readonly ('day' | 'night')[]): Promise<string[]> => {
  const found: string[] = [];
  for (const theme of themes) {
    await inTheme(page, theme);
    await stands(page);
    // No frame here is of another origin: all are looked at from the page itself, without one more that is opened to put them together.
    const axe = new AxeBuilder({ page }).setLegacyMode();
    const { violations } = await (theme === 'day' ? axe.withTags(RULES) : axe.withRules(['color-contrast'])).analyze();
    for (const v of violations)
      found.push(
        `${what}, ${theme}, ${v.id}: ${v.nodes
          .slice(0, 3)
          .map((n) => `${n.html.slice(0, 160)} ${n.failureSummary}`)
          .join(' | ')}`,
      );
  }
  await inTheme(page, 'day');
  return found;
};

test('axe finds nothing in what opens over a view, by day and by night', async ({ page }) => {
  const found: string[] = [];
  for (const [what, view, opens] of DIALOGS) {
    await page.goto(view);
    await expect(page.getByText(/^Loading/)).toHaveCount(0);
    await page.locator('main, [role=grid]').first().waitFor();
    const before = await page.locator('body *').count();
    await opens(page);
    // Something more is there now than before.
    await expect.poll(() => page.locator('body *').count(), { message: `${what} opens` }).not.toBe(before);
    found.push(...(await axeFinds(page, what, ['day', 'night'])));
  }
  expect(found).toEqual([]);
});

/** Windows in which no view may be wider: the usual one, a small one, and one at 200 % zoom. */
const WINDOWS = [
  [1280, 800],
  [1024, 700],
  [640, 400],
] as const;

test('no view has a finding of axe, by day or by night, an odd phrase, or more than fits into a window', async ({ page }) => {
  const found: string[] = [];
  let before = '';
  for (const view of VIEWS) {
    await open(page, view, before);
    before = view;
    await expect(page.getByText(/^Loading/)).toHaveCount(0);
    await page.locator('main, [role=grid]').first().waitFor();
    const isKind = KINDS_OF_PARTS.includes(view);
    found.push(...(await axeFinds(page, view, isKind ? ['day', 'night'] : ['day'])));
    const said = (await page.locator('body').innerText()).replace(/stand-ins?/gi, '');
    const phrase = PHRASES.exec(said)?.[0];
    if (phrase !== undefined) found.push(`${view} says “${phrase}”`);
    for (const [width, height] of isKind ? WINDOWS : WINDOWS.slice(0, 1)) {
      await page.setViewportSize({ width, height });
      const overflow = await page.evaluate(() => document.documentElement.scrollWidth - innerWidth);
      if (overflow > 0) found.push(`${view} is ${overflow} px too wide at ${width} px`);
    }
    await page.setViewportSize({ width: 1280, height: 800 });
  }
  expect(found).toEqual([]);
});

test('what is cut with dots has its whole text where the pointer rests on it', async ({ page }) => {
  await page.goto('/plan');
  await stands(page);
  // Whatever the names are: one of them gets too little room.
  const cell = page.getByRole('gridcell', { name: 'Tool Viewed' }).first();
  const text = await cell.evaluateHandle((c) => {
    const el = [c, ...c.querySelectorAll('*')].find((x) => getComputedStyle(x).textOverflow === 'ellipsis') as HTMLElement;
    el.style.width = '20px';
    el.style.minWidth = '0';
    return el;
  });
  const title = () => text.evaluate((e) => e.title);
  await expect(async () => {
    await page.mouse.move(0, 0);
    await text.hover();
    expect(await title()).toBe(await text.evaluate((e) => e.textContent.trim()));
  }).toPass();
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
  // Findings are asked for anew when a message comes.
  const { key } = (await (await page.request.post('/api/keys', { data: { sourceId: 'web', label: 'away' } })).json()) as { key: string };
  const message = {
    id: `away-${Date.now()}`,
    name: 'Tool Viewed',
    time: new Date().toISOString(),
    ids: { anonymous: 'a-away' },
    properties: {},
    release: '1',
  };
  const sent = await page.request.post('/intake', { headers: { authorization: `Bearer ${key}` }, data: [message] });
  expect(sent.ok()).toBe(true);
  await expect(page.getByText('not up to date, retrying')).toBeVisible();
  await expect(page.getByRole('table', { name: 'The seven gates' })).toBeVisible();
  await page.unrouteAll({ behavior: 'wait' });
  await expect(page.getByText('not up to date, retrying')).toBeHidden();
});

test('what is not of the newest messages says of when it is, until it is; what nobody looked for is not said to be absent', async ({
  page,
}) => {
  let is: 'behind' | 'unlooked' = 'behind';
  await page.route('**/api/findings', async (route) => {
    const answer = await route.fetch();
    const body = (await answer.json()) as object;
    const headers = { ...answer.headers(), ...(is === 'behind' ? { age: '40' } : {}) };
    await route.fulfill({
      headers,
      json: { ...body, manyAt: is === 'behind' ? Date.now() : null, ...(is === 'behind' ? {} : { groups: [] }) },
    });
  });
  await page.goto('/arrivals');
  const said = page.getByText(/^as of \d\d:\d\d:\d\d, being renewed$/);
  await expect(said).toBeVisible();
  await expect(page.getByText(/^Patterns over many messages as of/)).toBeVisible();
  if (process.env['LOOK_TO']) await page.screenshot({ path: `${process.env['LOOK_TO']}/behind.png` });
  is = 'unlooked';
  // Nothing but the page itself asks again.
  await expect(said).toBeHidden();
  await expect(page.getByText('Patterns over many messages are still being looked for.')).toBeVisible();
  await expect(page.getByText(/^Each of [\d,]+ messages conforms\.$/)).toBeVisible();
  await expect(page.getByText(/all conforming/)).toHaveCount(0);
  await expect(page.getByRole('navigation', { name: 'Stations' }).getByRole('link', { name: /^Arrivals/ })).toContainText('still looking');
  if (process.env['LOOK_TO']) await page.screenshot({ path: `${process.env['LOOK_TO']}/unlooked.png` });
  await page.unrouteAll({ behavior: 'wait' });
});

test('what no longer exists, and a filter that nothing passes, say so', async ({ page }) => {
  await page.goto('/questions/gone');
  await expect(page.getByText('This question no longer exists.')).toBeVisible();
  await page.goto('/plan');
  await page.getByLabel('Filter the events').fill('zzz');
  await expect(page.getByText('Nothing matches the filter.')).toBeVisible();
  await page.goto('/arrivals');
  await page.getByLabel('Filter by event, source or identifier').fill('zzz');
  await expect(page.getByText('Nothing matches the filter.')).toBeVisible();
});

test('a view that cannot be drawn says so; the line and the other stations work on', async ({ page }) => {
  await page.route('**/api/findings', async (route) => {
    const answer = (await (await route.fetch()).json()) as { groups: object[] };
    await route.fulfill({ json: { ...answer, groups: answer.groups.map((g) => ({ ...g, sentence: undefined })) } });
  });
  await page.goto('/arrivals');
  await expect(page.getByText('This view could not be shown.')).toBeVisible();
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
    const again = page.getByRole('button', { name: 'Try again' });
    if (await again.isVisible()) await again.click();
    await expect(page.getByRole('button', { name: /^Clock runs ahead/ })).toBeVisible();
  }).toPass();
});

test('before the checks have run nothing is said to be right', async ({ page }) => {
  let go = (): void => undefined;
  const held = new Promise<void>((done) => (go = done));
  await page.route(/lint-worker|\/api\/alerts|\/api\/findings/, async (route) => {
    await held;
    await route.continue();
  });
  await page.goto('/plan/event:tool-viewed');
  const margin = page.getByRole('complementary', { name: 'Margin' });
  await expect(margin.getByText('Looking …')).toBeVisible();
  await expect(page.getByText('No issues.')).toHaveCount(0);
  await page.goto('/clearance');
  await expect(margin.getByRole('heading', { name: 'Findings that affect it', exact: true })).toBeVisible();
  await expect(page.getByRole('button', { name: /^Alerts/ }).first()).toBeVisible();
  await expect(page.getByText('nothing open')).toHaveCount(0);
  await expect(page.getByText('No open alerts')).toHaveCount(0);
  go();
  await expect(margin.getByRole('heading', { name: /^Findings that affect it \(\d+\)$/ })).toBeVisible();
  await page.unrouteAll({ behavior: 'ignoreErrors' });
});

/** Bytes as sent. The ledger of Plan brings its grid and the fields of all kinds along. */
const MAX_SCRIPT = 150_000;
const MAX_SCRIPT_OF_PLAN = 165_000;
/** What is there as soon as the first view of a station works, and the scripts that it is made by. */
const FIRST: readonly (readonly [string, string, readonly string[]])[] = [
  ['/questions', 'The question', ['Questions']],
  ['/plan', 'Events', ['PlanStation']],
  ['/identity', 'Identity rules', ['Identity']],
  ['/hand-off', 'Sample message', ['HandOff', 'EventBench']],
  ['/arrivals', 'Live view', ['Arrivals', 'LiveList']],
  ['/clearance', 'Questions by signal', ['ClearanceStation']],
];

/** The scripts that a page names, those of its view, and all that these bring along, each with its bytes as sent. */
const scriptsOf = async (page: Page, path: string, parts: readonly string[]): Promise<Map<string, number>> => {
  const html = await (await page.request.get(path)).text();
  const found = new Map<string, number>();
  const waiting = [...new Set([...html.matchAll(/_astro\/([\w.-]+\.js)/g)].map((m) => m[1]!))];
  for (const file of waiting) {
    if (found.has(file)) continue;
    const body = await (await page.request.get(`/_astro/${file}`)).body();
    found.set(file, gzipSync(body).length);
    const text = body.toString();
    for (const [, next] of text.matchAll(/(?:import|from)\s*["']\.\/([^"']+\.js)["']/g)) waiting.push(next!);
    for (const [, next] of text.matchAll(/import\(["']\.\/([^"']+\.js)["']/g))
      if (parts.some((p) => next!.startsWith(`${p}.`))) waiting.push(next!);
  }
  return found;
};

for (const [path, name, parts] of FIRST) {
  const max = path === '/plan' ? MAX_SCRIPT_OF_PLAN : MAX_SCRIPT;
  // All else is held back until the view stands: it must do without, however fast or slow this machine is.
  test(`the first view of ${path} works with at most ${max / 1000} kB of script, packed`, async ({ page }) => {
    const needed = await scriptsOf(page, path, parts);
    const bytes = [...needed.values()].reduce((sum, n) => sum + n, 0);
    expect(bytes, JSON.stringify([...needed])).toBeLessThanOrEqual(max);
    expect(bytes).toBeGreaterThan(50_000);
    const held: string[] = [];
    let standing = (): void => undefined;
    const stands = new Promise<void>((done) => (standing = done));
    await page.route(/\.js($|\?)/, async (route) => {
      const file = new URL(route.request().url()).pathname.split('/').at(-1) ?? '';
      if (!needed.has(file)) {
        held.push(file);
        await stands;
      }
      await route.continue();
    });
    await page.goto(path, { waitUntil: 'commit' });
    await page
      .getByLabel(name, { exact: true })
      .or(page.getByRole('heading', { name, exact: true }))
      .first()
      .waitFor()
      .catch((error: unknown) => {
        throw new Error(`“${name}” does not come without ${held.join(', ')}`, { cause: error });
      });
    standing();
    await page.unrouteAll({ behavior: 'ignoreErrors' });
  });
}
