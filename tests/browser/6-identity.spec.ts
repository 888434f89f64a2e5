import { expect, test } from '@playwright/test';

test('a link rule is missing: it is tried with and without, before anything is published', async ({ page }) => {
  await page.goto('/identity/what-if');
  const tried = async (): Promise<Record<string, string[]>> => {
    await page.getByRole('button', { name: 'Try the rules of the draft' }).click();
    await expect(page.getByRole('button', { name: 'To publishing' })).toBeVisible();
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
  await page.getByRole('button', { name: 'Take away the link of anonymous and user' }).click();
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
  await page.getByRole('button', { name: 'Add the link rule' }).click();
  const again = await tried();
  expect(again['orphaned user IDs']![0]).toBe(again['orphaned user IDs']![1]);
  expect(again['persons']![0]).toBe(again['persons']![1]);
});

test('by keyboard: a person is found, a wrong link cut with a reason, and the cut taken back', async ({ page }) => {
  await page.goto('/identity/person');
  await page.getByLabel('Find a person by an identifier').focus();
  // An anonymous ID that came beside a user ID.
  const people = (await (await page.request.get('/api/logbook?like=a-')).json()) as { kind: string; value: string }[];
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
  await page.getByRole('button', { name: 'Take it back' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByText('refused: cut')).toBeHidden();
});
