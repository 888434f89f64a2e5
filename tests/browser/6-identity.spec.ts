import { expect, test } from '@playwright/test';

test('a link rule is missing: it is tried with and without, before anything is published', async ({ page }) => {
  await page.goto('/identity/what-if');
  const tried = async (): Promise<Record<string, string[]>> => {
    await page.getByRole('button', { name: 'Try the draft’s rules' }).click();
    await expect(page.getByRole('button', { name: 'Go to Publish' })).toBeVisible();
    const rows = page.getByRole('table', { name: 'Persons before and after' }).getByRole('row');
    return Object.fromEntries(
      await Promise.all(
        (await rows.all())
          .slice(1)
          .map(async (r) => [await r.getByRole('rowheader').innerText(), await r.getByRole('cell').allInnerTexts()]),
      ),
    ) as Record<string, string[]>;
  };
  const number = (s: string | undefined): number => Number(s?.replaceAll(',', ''));
  await page.getByRole('button', { name: 'Remove the link of anonymous and user' }).click();
  const without = await tried();
  const [inForce, draft] = without['orphaned user IDs']!.map(number);
  expect(draft!).toBeGreaterThan(inForce!);
  expect(number(without['persons']![1])).toBeGreaterThan(number(without['persons']![0]));
  await expect(
    page
      .getByRole('row', { name: /Who finishes joining/ })
      .getByRole('cell')
      .nth(1),
  ).toHaveText(/%$/);
  await page.getByLabel('One kind').selectOption('anonymous');
  await page.getByLabel('The other kind').selectOption('user');
  await page.getByRole('button', { name: 'Add link rule' }).click();
  const again = await tried();
  expect(again['orphaned user IDs']![0]).toBe(again['orphaned user IDs']![1]);
  expect(again['persons']![0]).toBe(again['persons']![1]);
});

test('by keyboard: a person is found, a wrong link cut with a reason, and the cut taken back', async ({ page }) => {
  await page.goto('/identity/person');
  await page.getByLabel('Find a person by an identifier').focus();
  // An anonymous ID that came beside a user ID.
  const people = (await (await page.request.get('/api/identifiers?like=a-')).json()) as { kind: string; value: string }[];
  let joined: string | undefined;
  for (const p of people) {
    const g = (await (await page.request.get(`/api/person?kind=${p.kind}&value=${encodeURIComponent(p.value)}`)).json()) as {
      links: { refused?: string }[];
    };
    if (g.links.length === 1 && !g.links[0]!.refused) joined = p.value;
    if (joined) break;
  }
  expect(joined).toBeDefined();
  await page.keyboard.type(joined!);
  await page.keyboard.press('Enter');
  const graph = page.getByRole('img', { name: /^Person 1/ });
  await expect(graph).toHaveAccessibleName(/^Person 1: [^.]*$/);
  await page.getByRole('button', { name: 'Cut …' }).focus();
  await page.keyboard.press('Enter');
  await page.keyboard.type('A phone that was sold.');
  await page.keyboard.press('Enter');
  await expect(page.getByText('refused: cut')).toBeVisible();
  await expect(graph).toHaveAccessibleName(/Person 2:/);
  await page.getByRole('button', { name: 'Undo cut' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByText('refused: cut')).toBeHidden();
});

test('a bench case of one’s own is written, breaks when a link rule goes, and publishing says so', async ({ page }) => {
  await page.goto('/identity/bench');
  await page.getByRole('combobox', { name: 'Case', exact: true }).selectOption({ label: 'A late sign-in' });
  await page.getByRole('button', { name: 'Copy as own case' }).click();
  const title = page.getByLabel('Title of the case');
  await title.fill('Signs in after days');
  await title.press('Enter');
  const ids = page.getByLabel('Step 2, identifiers');
  await ids.fill('user');
  await ids.press('Enter');
  await expect(page.getByRole('alert')).toContainText('Write kind and value');
  await ids.fill('device d-4');
  await ids.press('Enter');
  await expect(page.getByRole('alert')).toHaveCount(0);
  await expect(page.getByTestId('rehearsal-persons')).toHaveText('2 persons');
  const must = page.getByLabel('Expected persons');
  await must.fill('2');
  await must.press('Enter');
  await expect(page.getByText('2 persons, as expected.')).toBeVisible();
  await page.getByRole('button', { name: 'Remove the link of anonymous and user' }).click();
  await expect(page.getByRole('button', { name: 'Signs in after days: 3, not 2' })).toBeVisible();
  // What is not saved yet when the page goes, the next page saves.
  await page.goto('/plan');
  await page.getByRole('button', { name: /^Publish version/ }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByText('Signs in after days: 3 persons, not 2')).toBeVisible();
  await dialog.getByLabel('What changed, and why').fill('Without the link.');
  await expect(dialog.getByRole('button', { name: 'Publish', exact: true })).toBeDisabled();
  await dialog.getByLabel('Publish anyway').check();
  await expect(dialog.getByRole('button', { name: 'Publish', exact: true })).toBeEnabled();
  // The server tries them itself.
  const refused = await page.request.post('/api/publish', { data: { note: 'Without the link.' } });
  expect(refused.status()).toBe(409);
  await page.keyboard.press('Escape');
  // The draft is left as it was found.
  await page.goto('/identity/bench');
  await page.getByLabel('One kind').selectOption('anonymous');
  await page.getByLabel('The other kind').selectOption('user');
  await page.getByRole('button', { name: 'Add link rule' }).click();
  await page.getByRole('combobox', { name: 'Case', exact: true }).selectOption({ label: 'Signs in after days' });
  await page.getByRole('button', { name: 'Delete this case' }).click();
  await expect(page.getByRole('option', { name: 'Signs in after days' })).toHaveCount(0);
});
