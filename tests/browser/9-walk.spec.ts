/** From a signal that fell, over its finding and the ticket, to the fix, the recovery, and a sign-off given anew. Last: it publishes a version. */
import { expect, test, type Page } from '@playwright/test';
import type { Plan } from '../../src/core/plan/plan';
import { badSearches } from '../build/bad-release';

const QUESTION = 'Share of searches without a result';
const PLACE = '/clearance/searches-without-result';

const gate = (page: Page, name: string) =>
  page.getByRole('table', { name: 'The seven gates' }).getByRole('row', { name: new RegExp(`^${name}`, 'i') });
const signOff = (page: Page) => page.getByRole('region', { name: 'Sign-off' });
test('a signal falls, its finding is opened from the alert and handed over, the plan is fixed, and the question is signed off anew', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await page.goto(PLACE);
  await signOff(page)
    .getByRole('button', { name: /Sign it off/ })
    .click();
  await page.getByLabel('On what ground').fill('Compared with the desk.');
  await page.getByRole('button', { name: 'Sign off', exact: true }).click();
  await expect(signOff(page)).toContainText('Signed off by');

  // A team begins to send −1 where a search failed.
  const { key } = (await (await page.request.post('/api/keys', { data: { sourceId: 'web', label: 'minus one' } })).json()) as {
    key: string;
  };
  const failed = badSearches(500, { query_length: 4, result_count: -1, branch: 'Quayside' }, 'minus');
  expect((await page.request.post('/intake', { headers: { authorization: `Bearer ${key}` }, data: failed })).ok()).toBe(true);

  await page.goto('/clearance/alerts');
  await expect(page.getByText(`“${QUESTION}” fell from`, { exact: false }).first()).toBeVisible();
  await expect(page.getByText(`The sign-off of “${QUESTION}” by`, { exact: false }).first()).toBeVisible();
  const alert = page.getByRole('listitem').filter({ hasText: 'result_count' }).filter({ hasText: 'finding opened' }).first();
  await alert.getByRole('button', { name: 'Open', exact: true }).click();
  const finding = page.getByRole('article', { name: 'Finding' });
  await expect(finding).toContainText('-1');
  await page.getByRole('button', { name: 'Copy ticket' }).click();
  await expect.poll(() => page.evaluate(() => navigator.clipboard.readText())).toContain('result_count');

  await page.goto(PLACE);
  await expect(gate(page, 'conforming')).toContainText('Stop.');
  await expect(signOff(page)).toContainText('Sign-off fell');
  await expect(signOff(page)).toContainText('The gate conforming fell');

  // The team is right: a search that failed is one, and the plan did not know.
  const { plan } = (await (await page.request.get('/api/workplace')).json()) as { plan: Plan };
  const [id] = Object.entries(plan.property).find(([, p]) => p.name === 'result_count')!;
  const edits = [{ op: 'set', kind: 'property', id, field: 'min', before: 0, after: -1 }];
  expect((await page.request.post('/api/edits', { data: { edits, label: '−1 for a search that failed', author: 'Ines' } })).ok()).toBe(
    true,
  );
  await page.goto('/plan');
  await page.getByRole('button', { name: /^Publish version/ }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('What changed, and why').fill('−1 stands for a search that failed');
  await dialog.getByRole('button', { name: 'Publish', exact: true }).click();
  await expect(dialog).toBeHidden();

  await page.goto(PLACE);
  await expect(gate(page, 'conforming')).toContainText('Clear.');
  // What was changed settles for two days; somebody answers for it meanwhile.
  await expect(gate(page, 'settled')).toContainText('Not judged yet.');
  const gates = page.getByRole('table', { name: 'The seven gates' });
  await gates.getByRole('button', { name: 'Evidence of settled' }).click();
  await gates.getByRole('button', { name: 'Waive this gate …' }).click();
  await page.getByLabel('Why settled is waived').fill('Only what counts as a result was widened.');
  await page.getByLabel('Until', { exact: true }).fill('5 Jan 2030');
  await page.getByLabel('Until', { exact: true }).press('Tab');
  await page.getByRole('button', { name: 'Waive settled' }).click();
  await expect(gate(page, 'settled')).toContainText('Waived until 5 Jan 2030');

  await signOff(page)
    .getByRole('button', { name: /Sign it off anew/ })
    .click();
  await page.getByLabel('On what ground').fill('Failed searches are counted apart now.');
  await page.getByRole('button', { name: 'Sign off', exact: true }).click();
  await expect(signOff(page)).toContainText('Failed searches are counted apart now.');
  await expect(signOff(page)).toContainText('Signed off by');
  await page.goto('/clearance/alerts');
  await page.getByRole('button', { name: 'All done' }).click();
  await expect(page.getByRole('tab', { name: 'Inbox', exact: true })).toBeVisible();
});
