/** What others see and are told: the pages for readers, on a phone and on paper; alerts, with the mouse and with the keyboard. */
import { AxeBuilder } from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { press } from '../build/browser';

const QUESTION = 'Reservations that end in a loan';
const PAGES = ['/answers', '/answers/reservations-to-loans', '/answers/glossary'];
const answersThere = async (page: Page): Promise<void> => {
  await expect(async () => {
    await page.goto('/answers');
    await expect(page.getByRole('link', { name: QUESTION })).toBeVisible();
  }).toPass();
};

test('whoever only reads finds the figure, whether it holds, what it means, and what to use instead', async ({ page }) => {
  await answersThere(page);
  await expect(page.getByText(/not to be relied on/).first()).toBeVisible();
  await page.getByRole('link', { name: QUESTION }).click();
  await expect(page.getByRole('heading', { name: QUESTION })).toBeVisible();
  for (const part of ['What it means', 'What is wrong with it', 'The figure', 'What to use', 'History'])
    await expect(page.getByRole('region', { name: part })).toBeVisible();
  // The figure is drawn by the browser.
  await expect(page.getByRole('region', { name: 'The figure' }).getByText('share of the first')).toBeVisible();
  await page.getByRole('link', { name: 'Glossary' }).click();
  await expect(page.getByText('Tool Viewed', { exact: true }).first()).toBeVisible();
});

for (const theme of ['day', 'night'])
  test(`readers: axe finds nothing, on a phone nothing is cut, ${theme} theme`, async ({ page }) => {
    await answersThere(page);
    await page.evaluate((t) => localStorage.setItem('signal-post-theme', t), theme);
    for (const width of [1280, 390]) {
      await page.setViewportSize({ width, height: 800 });
      for (const path of PAGES) {
        await page.goto(path);
        await page.waitForLoadState('networkidle');
        expect([path, width, await page.evaluate(() => document.documentElement.scrollWidth <= innerWidth)]).toEqual([path, width, true]);
        const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa']).analyze();
        expect(violations.map((v) => [path, v.id, v.nodes.map((n) => n.html.slice(0, 120))])).toEqual([]);
      }
    }
  });

test('on paper the pages have all that they have on the screen, and no navigation', async ({ page }) => {
  await answersThere(page);
  await page.emulateMedia({ media: 'print' });
  for (const path of PAGES) {
    await page.goto(path);
    await expect(page.getByRole('navigation', { name: 'For readers' })).toBeHidden();
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    const pdf = await page.pdf({ format: 'A4' });
    expect(pdf.subarray(0, 5).toString()).toBe('%PDF-');
    // Text, not one picture of a screen: as many sheets as it takes.
    expect((pdf.toString('latin1').match(/\/Type\s*\/Page\b/g) ?? []).length).toBeGreaterThanOrEqual(
      path === '/answers/reservations-to-loans' ? 1 : 2,
    );
  }
});

test('the picture of a signal is shared: a token is made, the picture is seen with it, and no longer once it has ended', async ({
  page,
}) => {
  await page.goto('/clearance/reservations-to-loans');
  await page.getByRole('button', { name: 'Share …' }).click();
  const card = page.getByRole('dialog', { name: 'Share' });
  await card.getByLabel('Who reads with it').fill('The wiki');
  await card.getByRole('button', { name: 'Create token' }).click();
  const token = await card.getByText(/^spr_/).textContent();
  const address = `/api/answers/reservations-to-loans/signal.svg?token=${token}`;
  await expect(card).toContainText(`signal.svg?token=${token}`);
  const shown = await page.evaluate(async (src) => {
    const image = new Image();
    image.src = src;
    await image.decode();
    const xml = new DOMParser().parseFromString(await (await fetch(src)).text(), 'image/svg+xml');
    return [
      image.naturalWidth,
      image.naturalHeight,
      xml.querySelector('parsererror') === null,
      xml.documentElement.getAttribute('aria-label'),
    ];
  }, address);
  expect(shown.slice(0, 3)).toEqual([340, 56, true]);
  expect(shown[3]).toMatch(/^Stop, complete up to .*: Reservations that end in a loan$/);
  await card.getByRole('button', { name: 'End The wiki' }).click();
  await expect(card.getByRole('button', { name: 'End The wiki' })).toHaveCount(0);
  // It may be kept for a minute by whoever has it.
  expect((await page.request.get(address)).status()).toBe(401);
});

test('a gate at stop is waived with a reason until a day, which is seen by whoever reads, and ended again', async ({ page }) => {
  await page.goto('/clearance/joining');
  const gates = page.getByRole('table', { name: 'The seven gates' });
  const stop = gates.getByRole('row').filter({ hasText: 'Stop.' }).first();
  const name = (await stop.getByRole('rowheader').textContent())!.trim();
  await press(page, gates.getByRole('button', { name: `Evidence of ${name}` }));
  await press(page, gates.getByRole('button', { name: 'Waive this gate …' }));
  await expect(page.getByLabel(`Why ${name} is waived`)).toBeFocused();
  await page.keyboard.type('The desk was rebuilt.');
  await page.keyboard.press('Tab');
  await page.keyboard.type('5 Jan 2030');
  await page.keyboard.press('Tab');
  await press(page, page.getByRole('button', { name: `Waive ${name}` }));
  await expect(gates.getByText(/^Waived until 5 Jan 2030, stop\.$/)).toBeVisible();
  await expect(gates).toContainText('The desk was rebuilt.');
  await expect(async () => {
    await page.goto('/answers/joining');
    await expect(page.getByText('The desk was rebuilt.').first()).toBeVisible();
  }).toPass();
  await page.goto('/clearance/joining');
  await gates.getByRole('button', { name: `Evidence of ${name}` }).click();
  await gates.getByRole('button', { name: 'End it now' }).click();
  await expect(gates.getByText(/^Waived until/)).toHaveCount(0);
  await expect(gates).toContainText('No longer needed.');
});

test('alerts: a rule is written, tested with the stand-in receiver, changed and removed; with the keyboard alone', async ({ page }) => {
  await page.goto('/clearance/alerts');
  await press(page, page.getByRole('tab', { name: /^Inbox/ }));
  await page.keyboard.press('ArrowRight');
  await expect(page.getByRole('table', { name: 'Rules of alerts' })).toContainText('What stops');
  await press(page, page.getByRole('button', { name: 'New rule …' }));
  const form = page.getByRole('form', { name: 'Rule' });
  await expect(form.getByLabel('Name of the rule')).toBeFocused();
  await page.keyboard.type('To the board');
  const by = form.getByLabel('tell by');
  await by.selectOption('webhook');
  await form.getByLabel('Where to').fill('http://10.0.0.1/');
  await press(page, form.getByRole('button', { name: 'Save rule' }));
  await expect(form.getByRole('alert')).toContainText('10.0.0.1 is in a private network.');
  await press(page, form.getByRole('button', { name: 'the stand-in receiver' }));
  await press(page, form.getByRole('button', { name: 'Save rule' }));
  const rules = page.getByRole('table', { name: 'Rules of alerts' });
  await expect(rules.getByRole('row', { name: /To the board/ })).toContainText('/stand-ins/receiver');
  await press(page, rules.getByRole('button', { name: 'Test To the board' }));
  const sent = page.getByRole('table', { name: 'Deliveries' });
  await expect(sent.getByRole('row', { name: /To the board/ })).toContainText('delivered');
  const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa']).analyze();
  expect(violations.map((v) => [v.id, v.nodes.map((n) => n.html.slice(0, 120))])).toEqual([]);
  const receiver = await page.context().newPage();
  await receiver.goto('/stand-ins/receiver');
  await expect(receiver.getByText('A test of the rule “To the board”.')).toBeVisible();
  await receiver.close();
  await page.getByRole('tab', { name: 'Rules' }).click();
  await press(page, rules.getByRole('button', { name: 'To the board', exact: true }));
  await form.getByLabel('in force').uncheck();
  await press(page, form.getByRole('button', { name: 'Save rule' }));
  await expect(rules.getByRole('row', { name: /To the board/ })).toContainText('(off)');
  await press(page, rules.getByRole('button', { name: 'Remove To the board' }));
  await expect(rules.getByRole('row', { name: /To the board/ })).toHaveCount(0);
});
