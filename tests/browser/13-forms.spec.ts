/** Where the focus goes: forms that a press opens, what is added to a sentence, what is made; and whose undoing Ctrl Z is. */
import { expect, test, type Page } from '@playwright/test';
import { press, stands, tabTo } from '../build/browser';

/** Address, what opens the form, and its first field. */
const FORMS: readonly (readonly [at: string, opener: RegExp | string, field: string])[] = [
  ['/plan', 'Find and replace', 'Find'],
  ['/hand-off', 'New key …', 'What the new key is for'],
  ['/arrivals/live', 'This is me …', 'An identifier of mine'],
  ['/arrivals/trials', /^Run/, 'How you are told from others'],
  ['/clearance/alerts', 'New rule …', 'Name of the rule'],
];

for (const [at, opener, label] of FORMS)
  test(`${at}: what “${String(opener)}” opens is closed by Escape and by Cancel, and the focus is back where it was`, async ({ page }) => {
    await page.goto(at);
    await stands(page);
    if (at === '/clearance/alerts') await page.getByRole('tab', { name: 'Rules', exact: true }).click();
    const button = page.getByRole('button', { name: opener }).first();
    const field = page.getByLabel(label, { exact: true });
    for (const close of ['Escape', 'Cancel'] as const) {
      await press(page, button);
      await expect(field).toBeVisible();
      await field.focus();
      if (close === 'Escape') await page.keyboard.press('Escape');
      else await press(page, page.locator('form').filter({ has: field }).getByRole('button', { name: 'Cancel' }));
      await expect(field).toHaveCount(0);
      await expect(button).toBeFocused();
      // The page is where it was: the same key did not lead away.
      expect(new URL(page.url()).pathname).toBe(at);
    }
  });

const newQuestion = async (page: Page, text: string): Promise<void> => {
  await page.goto('/questions');
  await press(page, page.getByRole('button', { name: 'New' }));
  await expect(page.getByLabel('The question', { exact: true })).toBeFocused();
  await page.keyboard.type(text);
  await page.keyboard.press('Enter');
};

test('Ctrl Z in a field undoes what is typed in it; with nothing typed, the last edit of the plan', async ({ page }) => {
  await newQuestion(page, 'Who undoes what?');
  const field = page.getByLabel('Definition', { exact: true });
  await field.focus();
  await page.keyboard.type('One meaning');
  await page.keyboard.press('Enter');
  await field.focus();
  await page.keyboard.press('End');
  await page.keyboard.type('!');
  await expect(field).toHaveValue('One meaning!');
  await page.keyboard.press('Control+z');
  await expect(field).toHaveValue('One meaning');
  await expect(field).toBeFocused();
  await page.keyboard.press('Control+z');
  await expect(field).toHaveValue('');
  await page.keyboard.press('Control+Shift+z');
  await expect(field).toHaveValue('One meaning');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(page.getByLabel('The question', { exact: true })).not.toHaveValue('Who undoes what?');
});

test('a condition that is added has the focus, and so has a question made of messages', async ({ page }) => {
  await newQuestion(page, 'Where is the focus?');
  await press(page, page.getByRole('button', { name: /^Active persons/ }));
  await press(page, page.getByRole('button', { name: /^Event/ }).first());
  await page.keyboard.type('Tool Viewed');
  await page.keyboard.press('Enter');
  for (let i = 0; i < 2; i++) {
    await press(page, page.getByRole('button', { name: 'Add a condition to Tool Viewed' }));
    await expect(page.getByRole('button', { name: 'Remove this condition' })).toHaveCount(i + 1);
    const focused = await page.evaluate(() => {
      const own = [...document.querySelectorAll('[aria-label="Remove this condition"]')].at(-1)!.closest('[data-line]')!;
      return [own.contains(document.activeElement), own.querySelector('button') === document.activeElement];
    });
    expect(focused).toEqual([true, true]);
  }
  await page.goto('/arrivals/live');
  await press(page, page.getByRole('button', { name: 'Pick', exact: true }));
  const one = page.getByRole('checkbox', { name: /^Pick / }).first();
  await tabTo(page, one);
  await page.keyboard.press('Space');
  await page.getByRole('button', { name: 'Create question' }).click();
  await expect(page.getByLabel('The question', { exact: true })).toBeFocused();
  await page.goto('/questions');
});
