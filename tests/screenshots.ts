/** One picture of each main view, from the demo. */
import { expect, test, type Page } from '@playwright/test';
import { stands } from './build/browser';
import { badSearches } from './build/bad-release';

const TO = process.env['PICTURES_TO'] ?? 'docs/screenshots';

/** A picture of a view that is ready. */
const shot = async (page: Page, name: string): Promise<void> => {
  await stands(page);
  // A busy machine may still be adding what came: what is shown then is of before.
  await expect(page.getByText(/being renewed$/)).toBeHidden();
  await page.screenshot({ path: `${TO}/${name}.png` });
};

test('pictures of the stations', async ({ page }) => {
  await page.goto('/questions/joining');
  await expect(page.getByLabel('Figure').getByText('counted from')).toBeVisible();
  await shot(page, '1-questions');
  await page.goto('/questions/coverage');
  await expect(page.getByRole('region', { name: 'Questions against events' })).toBeVisible();
  await shot(page, '1-coverage');
  await page.goto('/plan/event:book-workshop');
  await expect(page.getByText(/^Findings \(\d+\)/)).toBeVisible();
  await shot(page, '2-plan');
  await page.goto('/plan?item=open%3Adefinition%3Alibrarian-asked');
  await expect(page.getByText('Newest messages, as it has them')).toBeVisible();
  await shot(page, '2-definition');
  await page.goto('/plan/try');
  await page.getByRole('button', { name: 'Run it over the recorded messages' }).click();
  await expect(page.getByText(/^Compared with version/)).toBeVisible();
  await shot(page, '2-try');
  await page.goto('/identity');
  await expect(page.getByText('under each counting basis').first()).toBeVisible();
  await shot(page, '3-identity');
  await page.goto('/identity/health');
  await expect(page.getByRole('heading', { name: 'Shapes of identifiers' })).toBeVisible();
  await shot(page, '3-identity-health');
  await page.goto('/identity/bench');
  await page.getByLabel('The client identifies after the sign-up').check();
  await shot(page, '3-identity-bench');
  await page.goto('/hand-off/reservation-requested');
  await expect(page.getByRole('heading', { name: 'Reservation Requested on Web catalogue' })).toBeVisible();
  await shot(page, '4-hand-off');
  await page.goto('/hand-off/view:progress');
  await expect(page.getByRole('row', { name: /Tool Viewed.*Web catalogue/ })).toBeVisible();
  await shot(page, '4-progress');
  await page.goto('/arrivals');
  await page.getByRole('button', { name: /^Premature trigger/ }).click();
  await expect(page.getByText('Newest examples')).toBeVisible();
  await shot(page, '5-arrivals');
  await page.goto('/arrivals?item=volume%3ALate+Fee+Charged%3Apayments');
  await expect(page.locator('.apexcharts-svg')).toBeVisible();
  await shot(page, '5-volume');
  await page.goto('/arrivals?item=profile%3AReservation+Requested');
  await expect(page.getByRole('heading', { name: 'Where it fires' })).toBeVisible();
  await shot(page, '5-profile');
  await page.goto('/arrivals/logbook');
  await page.getByLabel('Find a person by an identifier').fill('m-1000');
  await page.getByLabel('Find a person by an identifier').press('Enter');
  await expect(page.getByRole('list', { name: 'Messages of this person' })).toBeVisible();
  await shot(page, '5-logbook');
  await page.goto('/clearance?item=searches-to-views');
  await expect(page.getByText('as it would be,').first()).toBeVisible();
  await shot(page, '6-clearance');

  await page.goto('/arrivals');
  await page.getByRole('button', { name: 'Stand-in' }).click();
  const shop = page.frameLocator('iframe');
  await shop.getByLabel('Sends the deposit as text').check();
  await shop.getByRole('button', { name: /Three-part ladder/ }).click();
  await shop.getByRole('button', { name: /Reserve/ }).click();
  await expect(shop.getByText('It is yours')).toBeVisible();
  // The finding, not the message in the live view that has it.
  await page.getByRole('button', { name: /^Wrong type .*Reservation Requested came with deposit/ }).click();
  await shot(page, '5-arrivals-stand-in');

  await expect(async () => {
    await page.goto('/answers');
    await expect(page.getByText('Searches', { exact: false }).first()).toBeVisible();
  }).toPass();
  await shot(page, '6-answers');
  const { key } = (await (await page.request.post('/api/keys', { data: { sourceId: 'web', label: 'a bad release' } })).json()) as {
    key: string;
  };
  const bad = badSearches(600, { query_length: 'long' });
  await page.request.post('/intake', { headers: { authorization: `Bearer ${key}` }, data: bad });
  await page.goto('/clearance/alerts');
  await expect(page.getByText('finding opened').first()).toBeVisible();
  await shot(page, '6-alerts');

  await page.goto('/arrivals/trials:reserve-a-tool');
  await page.getByRole('button', { name: 'Stand-in' }).click();
  const web = page.frameLocator('iframe[title="Stand-in: web catalogue"]');
  const who = await web.getByText(/^a-[0-9a-f]{12}$/).textContent();
  await page.getByRole('button', { name: 'Run …' }).click();
  await page.getByLabel('Your identifier').fill(who!);
  await page.getByRole('button', { name: 'Begin', exact: true }).click();
  const step = (n: number) => page.getByRole('listitem', { name: `Step ${n}` });
  await web.getByRole('checkbox', { name: /deposit as text/ }).check();
  await step(1).getByRole('button', { name: 'Begin' }).click();
  await web.getByRole('button', { name: /Cordless drill/ }).click();
  await expect(
    step(1)
      .getByText(/a number in text/)
      .first(),
  ).toBeVisible();
  await step(2).getByRole('button', { name: 'Begin' }).click();
  await web.getByRole('button', { name: 'Sign in with a card' }).click();
  await expect(step(2).getByText('release 9.0.0')).toBeVisible();
  await shot(page, '5-trial');
});
