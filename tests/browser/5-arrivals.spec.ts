import { expect, test } from '@playwright/test';

test('a finding is acknowledged, and opened again', async ({ page }) => {
  await page.goto('/arrivals');
  const open = page.getByRole('region', { name: 'Open' });
  await open.getByRole('button', { name: /^Clock runs ahead/ }).click();
  const finding = page.getByRole('article', { name: 'Finding' });
  await finding.getByRole('button', { name: 'Acknowledge …' }).click();
  await finding.getByLabel('Why it is left as it is for now').fill('It is built next month.');
  await finding.getByLabel('Who mends it').fill('Ravi');
  await finding.getByRole('button', { name: 'Acknowledge', exact: true }).click();
  await expect(finding.getByText(/It is built next month\. \(Ravi\)/)).toBeVisible();
  const known = page.getByRole('region', { name: 'Acknowledged' });
  await expect(known.getByRole('button', { name: /^Clock runs ahead/ })).toBeVisible();
  await page.reload();
  await expect(known).toBeVisible();
  await finding.getByRole('button', { name: 'Open it again' }).click();
  await expect(open.getByRole('button', { name: /^Clock runs ahead/ })).toBeVisible();
  await expect(known).toBeHidden();
});

test('by keyboard: a person is found by a part of an identifier, and the matrix is filtered', async ({ page }) => {
  await page.goto('/arrivals/logbook');
  const find = page.getByLabel('Find a person by an identifier');
  await find.focus();
  await page.keyboard.type('m-1000');
  await expect(page.getByRole('button', { name: /^m-1000\d+ ?user$/ }).first()).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: /^m-1000/ })).toBeVisible();
  const messages = page.getByRole('list', { name: 'Messages of this person' }).getByRole('listitem');
  await messages.first().getByRole('button').focus();
  await page.keyboard.press('Enter');
  await expect(
    page
      .getByRole('complementary', { name: 'Margin' })
      .getByText('Verdict')
      .or(page.getByText(/^Findings \(/))
      .first(),
  ).toBeVisible();
  await page.goto('/arrivals/matrix');
  await page.getByLabel('Filter the matrix').focus();
  await page.keyboard.type('not planned');
  await expect(page.getByRole('cell', { name: 'not planned' }).first()).toBeVisible();
  await expect(page.getByRole('cell', { name: 'seen', exact: true })).toHaveCount(0);
});
