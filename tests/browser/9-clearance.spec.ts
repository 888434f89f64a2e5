/** Clearance: gates with their evidence, and a sign-off given and taken back, with the mouse and with the keyboard. */
import { expect, test, type Locator, type Page } from '@playwright/test';
import { press } from '../build/browser';

const QUESTION = 'Share of searches without a result';
const gates = (page: Page): Locator => page.getByRole('table', { name: 'The seven gates' });
const signOff = (page: Page): Locator => page.getByRole('region', { name: 'Sign-off' });

test('a gate says in a line what it found, and on demand by what numbers, findings, and who can raise it', async ({ page }) => {
  await page.goto('/clearance');
  await page.getByRole('button', { name: new RegExp(QUESTION) }).click();
  await expect(gates(page).getByRole('row')).toHaveCount(7);
  // Figure, gates and sign-off are in sight without scrolling.
  const last = await gates(page)
    .getByRole('row', { name: /^fresh/i })
    .boundingBox();
  expect(last!.y + last!.height).toBeLessThan(800);
  for (const row of await gates(page).getByRole('row').all()) expect((await row.boundingBox())!.height).toBeLessThan(45);
  await gates(page).getByRole('button', { name: 'Evidence of complete' }).click();
  await expect(gates(page).getByText('To raise it:')).toBeVisible();
  const finding = gates(page).getByRole('button', { name: /came twice for the same person/ });
  await finding.click();
  await expect(page.getByRole('article', { name: 'Finding' })).toContainText('Double fire');
});

test('what is at stop cannot be signed off; what a caution leaves can, and is taken back', async ({ page }) => {
  await page.goto('/clearance');
  await page.getByRole('button', { name: /Do viewers become borrowers/ }).click();
  await expect(signOff(page)).toContainText('it can be once no gate stops it or waits');
  await expect(signOff(page).getByRole('button', { name: /Sign it off/ })).toHaveCount(0);

  await page.getByRole('button', { name: new RegExp(QUESTION) }).click();
  await signOff(page)
    .getByRole('button', { name: /Sign it off/ })
    .click();
  await expect(page.getByLabel('On what ground')).toBeFocused();
  await page.getByLabel('On what ground').fill('The searches that came twice are few.');
  await signOff(page).getByRole('button', { name: 'Sign off', exact: true }).click();
  await expect(signOff(page)).toContainText(/Signed off by .*, for version \d+: The searches that came twice are few\./);
  await signOff(page).getByRole('button', { name: 'Take it back' }).click();
  await expect(signOff(page)).toContainText('Sign-off fell');
  await expect(signOff(page)).toContainText('Taken back by');

  // The same with the keyboard alone.
  await press(page, signOff(page).getByRole('button', { name: /Sign it off anew/ }));
  await expect(page.getByLabel('On what ground')).toBeFocused();
  await page.keyboard.type('Looked at again.');
  await page.keyboard.press('Enter');
  await expect(signOff(page)).toContainText('Looked at again.');
  await press(page, signOff(page).getByRole('button', { name: '1 before' }));
  await expect(signOff(page)).toContainText('The searches that came twice are few.');
  await press(page, signOff(page).getByRole('button', { name: 'Take it back' }));
  await expect(signOff(page)).toContainText('Sign-off fell');
});
