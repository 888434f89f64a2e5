/** A workspace with nothing in it, by keyboard alone: from the first question to the verdict on the first message. */
import { expect, test, type Page } from '@playwright/test';
import { key, pick, press, tabTo } from '../build/browser';

const EMPTY_URL = process.env['EMPTY_URL'] ?? 'http://127.0.0.1:4500';
test.use({ baseURL: EMPTY_URL });

const steps = (page: Page) => page.getByRole('navigation', { name: 'First steps' });
const next = (page: Page) => steps(page).locator('[aria-current="step"]');

test('by keyboard: the first steps, from a question to the verdict on a message', async ({ page, request }) => {
  await page.goto('/');
  await expect(next(page)).toContainText('Write a question');
  await press(page, next(page));
  await press(page, page.getByRole('button', { name: 'New', exact: true }));
  await expect(page.getByLabel('The question', { exact: true })).toBeFocused();
  await page.keyboard.type('How many people borrow each week?');
  await key(page, 'Enter');
  await expect(next(page)).toContainText('Plan an event');

  // The figure names an event that is not there yet, and puts it into the plan.
  await press(page, page.getByRole('button', { name: /^Active persons/ }));
  await pick(
    page,
    page
      .getByRole('main')
      .getByRole('button', { name: /^Event/ })
      .first(),
    'Loan Started',
  );
  await press(page, page.getByRole('button', { name: 'Add it to the plan' }));
  await expect(next(page)).toContainText('Name the source');

  await press(page, next(page));
  await press(page, page.getByRole('button', { name: 'New source' }).first());
  await expect(page.getByRole('grid', { name: 'Sources' })).toBeFocused();
  await page.keyboard.type('Web shop');
  await key(page, 'Enter');
  await expect(next(page)).toContainText('Create a write key');

  // The event is sent by it.
  await press(page, steps(page).getByRole('button', { name: /Plan an event/ }));
  await tabTo(page, page.getByRole('grid', { name: 'Events' }));
  await key(page, 'Control+Home');
  await key(page, 'Control+Enter');
  await tabTo(page, page.getByLabel('Trigger', { exact: true }));
  await page.keyboard.type('The loan was stored.');
  await key(page, 'Enter');
  await tabTo(page, page.getByRole('checkbox', { name: 'Web shop client' }));
  await key(page, 'Space');
  await expect(page.getByRole('checkbox', { name: 'Web shop client' })).toBeChecked();
  await key(page, 'Escape');
  await expect(page.getByRole('grid', { name: 'Events' })).toBeVisible();

  await press(page, steps(page).getByRole('button', { name: /Create a write key/ }));
  await press(page, page.getByRole('button', { name: 'New key …' }));
  await expect(page.getByLabel('What the new key is for')).toBeFocused();
  await page.keyboard.type('the first shop');
  await key(page, 'Enter');
  await expect(page.getByText('Shown only once')).toBeVisible();
  await expect(next(page)).toContainText('Send a message');
  const secret = await page.getByRole('complementary', { name: 'Margin' }).locator('.wire').first().innerText();

  const sent = await request.post('/intake', {
    headers: { authorization: `Bearer ${secret}` },
    data: [{ id: '0190', name: 'Loan Started', time: new Date().toISOString(), ids: { anonymous: 'a-1' }, properties: {}, release: '1.0' }],
  });
  expect(sent.status()).toBe(200);
  await expect(next(page)).toContainText('Publish and read its verdict');
  await press(page, next(page));
  await press(page, page.getByRole('button', { name: /^Publish version 1/ }));
  await expect(page.getByLabel('What changed, and why')).toBeFocused();
  await page.keyboard.type('The first event');
  await key(page, 'Enter');
  await expect(steps(page)).toContainText('All first steps are done');
  await press(page, steps(page).getByRole('button', { name: 'Hide the first steps' }));
  await expect(steps(page)).toBeHidden();

  await key(page, '5');
  const message = page.getByRole('list', { name: 'Messages, newest first' }).getByRole('button', { name: /Loan Started/ });
  await expect(message).toContainText('conforms');
  await expect(page.getByText('1 message, all conforming.')).toBeVisible();
  await press(page, message);
  await expect(page.getByRole('complementary', { name: 'Margin' }).getByText('Loan Started').first()).toBeVisible();
  await key(page, '6');
  await expect(page.getByRole('button', { name: /How many people borrow each week/ })).toBeVisible();
  await press(page, page.getByRole('button', { name: /How many people borrow each week/ }));
  const gates = page.getByRole('table', { name: 'The seven gates' });
  await expect(gates.getByRole('row', { name: /^planned/ })).toContainText('Clear.');
  await press(page, gates.getByRole('button', { name: 'Evidence of conforming' }));
  await expect(gates.getByText(/Too few people to say so: 189 would do/)).toBeVisible();
  await expect(page.getByRole('table', { name: 'Active persons' }).getByRole('cell', { name: '1', exact: true })).toBeVisible();
});
