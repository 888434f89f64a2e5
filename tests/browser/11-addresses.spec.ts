/** Every page is opened in a browser, with the demo and empty: nothing in the console, nothing that was thrown, no answer of 500 and above. A station is
 *  loaded once; its other addresses are gone to from there, as somebody does who follows a link or goes back.
 */
import { expect, test, type Page } from '@playwright/test';
import { pagesOf, seenAt } from '../build/addresses';
import { open, stationOf } from '../build/browser';

const ORDER = (at: string): string => stationOf(at) ?? '';

/** Says of each page what went wrong on it. */
const troublesOn = async (page: Page, base: string): Promise<string[]> => {
  const found: string[] = [];
  let at = '';
  let before = '';
  page.on('console', (m) => {
    // The readers' page of a question that there is not, and the like, are answered with 404, which the console tells too.
    if (m.type() === 'error' && !/status of 40\d/.test(m.text())) found.push(`${at} console: ${m.text()}`);
  });
  page.on('pageerror', (e) => found.push(`${at} threw: ${e.message}`));
  page.on('response', (r) => {
    if (r.status() >= 500) found.push(`${at} ${r.status()}: ${r.url()}`);
  });
  // Those of one station one after the other.
  const pages = pagesOf(await seenAt(base)).sort((a, b) => (ORDER(a) < ORDER(b) ? -1 : Number(ORDER(a) > ORDER(b))));
  for (at of pages) {
    const from = Math.max(0, found.length);
    // What the address before showed is gone when this one stands.
    await open(page, at, before, base);
    before = at;
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
