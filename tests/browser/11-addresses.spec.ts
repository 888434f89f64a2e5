/** Every page is opened in a browser, with the demo and empty: nothing in the console, nothing that was thrown, no answer of 500 and above. */
import { expect, test, type Page } from '@playwright/test';
import { pagesOf, seenAt } from '../build/addresses';

/** Says of each page what went wrong on it. */
const troublesOn = async (page: Page, base: string): Promise<string[]> => {
  const found: string[] = [];
  let at = '';
  page.on('console', (m) => {
    // The readers' page of a question that there is not, and the like, are answered with 404, which the console tells too.
    if (m.type() === 'error' && !/status of 40\d/.test(m.text())) found.push(`${at} console: ${m.text()}`);
  });
  page.on('pageerror', (e) => found.push(`${at} threw: ${e.message}`));
  page.on('response', (r) => {
    if (r.status() >= 500) found.push(`${at} ${r.status()}: ${r.url()}`);
  });
  for (at of pagesOf(await seenAt(base))) {
    const from = Math.max(0, found.length);
    await page.goto(base + at);
    await expect(page.locator('body')).toContainText(/\S/);
    await expect(page.getByText(/^Loading/i)).toHaveCount(0);
    if (found.length === from && (await page.getByText('This view could not be shown.').count()) > 0)
      found.push(`${at} could not be shown`);
  }
  return found;
};

test('with the demo', async ({ page, baseURL }) => {
  expect(await troublesOn(page, baseURL!)).toEqual([]);
});

test('in an empty workspace', async ({ page }) => {
  expect(await troublesOn(page, process.env['EMPTY_URL']!)).toEqual([]);
});
