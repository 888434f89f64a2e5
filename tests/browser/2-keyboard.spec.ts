/** The whole line with the keyboard alone: no click anywhere. */
import { expect, test } from '@playwright/test';
import { pick, press, tabTo } from '../build/browser';

test.use({ permissions: ['clipboard-read', 'clipboard-write'] });

test('a note holds nobody who walks by Tab, and gives the focus back when it goes', async ({ page }) => {
  await page.goto('/hand-off');
  await press(page, page.getByRole('button', { name: 'Copy ticket' }));
  const note = page.getByRole('listitem').filter({ hasText: 'copied' });
  // It stays for as long as the pointer is on it.
  await note.hover();
  await tabTo(page, note);
  await page.keyboard.press('Shift+Tab');
  await expect(note).not.toBeFocused();
  const before = await page.evaluateHandle(() => document.activeElement);
  await page.keyboard.press('Tab');
  await expect(note).toBeFocused();
  // Past the last stop of the page is the browser's own bar, or its beginning, never what comes before the note.
  await page.keyboard.press('Tab');
  await expect(note).not.toBeFocused();
  expect(await before.evaluate((el) => el === document.activeElement)).toBe(false);

  await tabTo(page, note);
  await page.keyboard.press('Escape');
  await expect(note).toHaveCount(0);
  await expect.poll(() => before.evaluate((el) => el === document.activeElement)).toBe(true);
});

test('the line by keyboard', async ({ page }) => {
  await page.goto('/questions');
  await page.getByRole('button', { name: 'New' }).waitFor();

  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keyboard shortcuts' })).toBeVisible();
  await page.keyboard.press('Escape');

  await press(page, page.getByRole('button', { name: 'New' }));
  await expect(page.getByLabel('The question', { exact: true })).toBeFocused();
  await page.keyboard.type('Do searchers reserve?');
  await page.keyboard.press('Enter');
  await press(page, page.getByRole('button', { name: /^Conversion/ }));
  await pick(page, page.getByRole('button', { name: /^Step 1/ }), 'Catalogue Searched');
  await pick(page, page.getByRole('button', { name: /^Step 2/ }), 'Shelf Praised');
  await expect(page.getByText('is not in the plan', { exact: false }).first()).toBeVisible();
  await press(page, page.getByRole('button', { name: 'Add it to the plan' }));
  await expect(page.getByText('Answerable.')).toBeVisible();

  await page.keyboard.press('2');
  const grid = page.getByRole('grid', { name: 'Events' });
  await tabTo(page, grid);
  await page.keyboard.press('Control+End');
  await page.keyboard.press('Home');
  await expect(page.getByRole('gridcell', { name: 'Shelf Praised', selected: true })).toBeVisible();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.type('The praise was stored.');
  await page.keyboard.press('Tab');
  await page.keyboard.type('sometimes');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert').filter({ hasText: 'is not a kind of trigger' })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('gridcell', { name: 'The praise was stored.' })).toBeVisible();
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('Delete');
  await expect(page.getByRole('gridcell', { name: 'The praise was stored.' })).toBeHidden();
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('gridcell', { name: 'The praise was stored.' })).toBeVisible();

  // A range goes to the clipboard as a sheet would have it, and back into other cells.
  await page.keyboard.press('Control+Home');
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Control+c');
  expect(await page.evaluate(() => navigator.clipboard.readText())).toBe('Catalogue Searched\nTool Viewed');
  await page.evaluate(() => navigator.clipboard.writeText('Praise\tOwner one\nPraise\tOwner two'));
  await page.keyboard.press('Control+End');
  await page.keyboard.press('Home');
  for (let i = 0; i < 6; i++) await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('Control+v');
  await expect(page.getByRole('gridcell', { name: 'Owner two' })).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('gridcell', { name: 'Owner two' })).toBeHidden();

  await press(page, page.getByRole('button', { name: /^Publish version/ }));
  await page.keyboard.type('Praise');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/version \d+, published just now/)).toBeVisible();

  await page.keyboard.press('3');
  await press(page, page.getByRole('button', { name: /^Bench/ }));
  await tabTo(page, page.getByLabel('The client identifies after the sign-up'));
  await page.keyboard.press('Space');
  await expect(page.getByTestId('rehearsal-persons')).toHaveText('1 person');
  await tabTo(page, page.getByRole('listbox', { name: 'Steps' }));
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('ArrowLeft');
  await expect(page.getByTestId('rehearsal-persons')).toHaveText('2 persons');

  await page.keyboard.press('4');
  await press(page, page.getByRole('button', { name: 'Copy ticket' }));
  await expect.poll(() => page.evaluate(() => navigator.clipboard.readText())).toContain('## Accepted when');

  await page.keyboard.press('5');
  await press(page, page.getByRole('button', { name: 'Stand-in' }));
  const shop = page.frameLocator('iframe');
  await press(page, shop.getByRole('button', { name: /Jigsaw/ }));
  await press(page, shop.getByRole('button', { name: /^Reserve/ }));
  await expect(shop.getByText('It is yours')).toBeVisible();
  const message = page
    .getByRole('list', { name: 'Messages, newest first' })
    .getByRole('button', { name: /Reservation Requested/ })
    .first();
  await press(page, message);
  await expect(page.getByRole('complementary', { name: 'Margin' }).getByText('"Jigsaw"')).toBeVisible();

  await page.keyboard.press('Control+k');
  await expect(page.locator('[cmdk-input]')).toBeFocused();
  await page.keyboard.type('Go to Clearance');
  await page.keyboard.press('Enter');
  await press(page, page.getByRole('button', { name: /Do searchers reserve/ }));
  const gates = page.getByRole('table', { name: 'The seven gates' });
  await press(page, gates.getByRole('button', { name: 'Evidence of built' }));
  await expect(gates.getByText(/^Nobody has sent/)).toContainText('Shelf Praised');
});
