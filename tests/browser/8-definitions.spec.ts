/** Definitions: written as a sentence and seen meanwhile, offered by findings, tried and published; with the mouse and by keyboard alone. */
import { expect, test } from '@playwright/test';
import { key, pick, press, tabTo } from '../build/browser';

test('a narrow event is made of a broad one: what it takes is seen before it is saved, and a question asks about it', async ({ page }) => {
  await page.goto('/plan/definition');
  const bench = page.getByRole('main');
  await page.getByRole('button', { name: 'New definition' }).first().click();
  await expect(page.getByRole('grid', { name: 'Definitions' })).toBeFocused();
  await page.keyboard.type('Drill Guide Read');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Control+Enter');
  await expect(bench.getByRole('heading', { name: 'Drill Guide Read' })).toBeVisible();
  await expect(bench.getByText('1 part is still open.')).toBeVisible();

  const choose = async (name: RegExp | string, text: string): Promise<void> => {
    await bench.getByRole('button', { name }).last().click();
    await expect(page.locator('[cmdk-input]')).toBeFocused();
    await page.keyboard.type(text);
    await page.keyboard.press('Enter');
  };
  const takes = bench.getByRole('region', { name: 'What it takes' });
  await choose(/^Made of:/, 'Guide Read');
  // All of it, until something narrows it.
  await expect(takes.getByText(/of Guide Read \(100\.0 %\)/)).toBeVisible();
  const all = Number((await takes.locator('b').first().innerText()).replaceAll(',', ''));
  await bench.getByRole('button', { name: 'condition', exact: true }).click();
  await choose(/^Value: not chosen/, '/guides/drills');
  await expect(takes.getByText('/guides/drills')).toBeVisible();
  await expect(async () => {
    const n = Number((await takes.locator('b').first().innerText()).replaceAll(',', ''));
    expect(n).toBeGreaterThan(0);
    expect(n).toBeLessThan(all / 2);
  }).toPass();
  await expect(bench.getByText('Not saved yet. What it takes is shown below.')).toBeVisible();

  // A condition that contradicts it is said while it is written.
  await bench.getByRole('button', { name: 'condition', exact: true }).click();
  await choose(/^What is looked at: page path/, 'guide_share');
  await choose(/^Comparison:/, 'at least');
  await choose(/^Value: not chosen/, '200');
  await bench.getByRole('button', { name: 'condition', exact: true }).click();
  await choose(/^What is looked at: page path/, 'guide_share');
  await choose(/^Comparison:/, 'at most');
  await choose(/^Value: not chosen/, '100');
  await expect(bench.getByText(/No message can fulfil this/)).toBeVisible();
  await bench.getByRole('button', { name: 'Remove this condition' }).last().click();
  await bench.getByRole('button', { name: 'Remove this condition' }).last().click();
  await bench.getByRole('button', { name: 'Save the sentence' }).click();
  await expect(bench.getByText('Saved in the draft.')).toBeVisible();

  // It is an event like all others: a question asks about it, and is answered over all that was recorded.
  await page.goto('/questions');
  await page.getByRole('button', { name: 'New', exact: true }).click();
  await page.keyboard.type('How many read about drills?');
  await page.keyboard.press('Enter');
  await bench.getByRole('button', { name: /^Active persons/ }).click();
  await bench.getByRole('button', { name: /^Event 1/ }).first().click(); // prettier-ignore
  await expect(page.locator('[cmdk-input]')).toBeFocused();
  await page.keyboard.type('Drill Guide Read');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Answerable.')).toBeVisible();
  await expect(bench.getByRole('region', { name: 'Figure' }).getByRole('rowheader', { name: 'Drill Guide Read' })).toBeVisible();
});

test('twins are united from their finding; a reworded link is taken in from that day, as either', async ({ page }) => {
  await page.goto('/arrivals');
  const bench = page.getByRole('main');
  await bench.getByRole('button', { name: /^Unknown event .*Tool viewed is not in the plan/ }).click();
  await page.getByRole('button', { name: 'Unite both in a definition' }).click();
  await expect(bench.getByRole('heading', { name: 'Tool Viewed' })).toBeVisible();
  await expect(bench.getByRole('region', { name: 'What it takes' }).getByText(/of Tool Viewed or Tool viewed \(100\.0 %\)/)).toBeVisible();

  await page.goto('/arrivals');
  await bench.getByRole('button', { name: /^Definition .*Librarian Asked takes nothing since/ }).click();
  await page.getByRole('button', { name: 'Take in “Ask about this tool”' }).click();
  await expect(bench.getByRole('heading', { name: 'Librarian Asked' })).toBeVisible();
  await expect(bench.getByRole('button', { name: 'Comparison: is one of' })).toBeVisible();
  await expect(bench.getByRole('button', { name: 'Value 2: Ask about this tool' })).toBeVisible();
});

test('by keyboard: a name is given to what was pressed, tried over the recorded messages, and left alone again', async ({ page }) => {
  await page.goto('/plan/definition');
  const bench = page.getByRole('main');
  const grid = page.getByRole('grid', { name: 'Definitions' });
  await press(page, page.getByRole('button', { name: 'New definition' }).first());
  await expect(grid).toBeFocused();
  await page.keyboard.type('Photos Opened');
  await key(page, 'Enter');
  await key(page, 'Control+Enter');
  await expect(bench.getByRole('heading', { name: 'Photos Opened' })).toBeVisible();
  await pick(page, bench.getByRole('button', { name: /^Made of:/ }), 'interactions');
  await press(page, bench.getByRole('button', { name: 'condition', exact: true }));
  await pick(page, bench.getByRole('button', { name: /^What is looked at/ }), 'element.text');
  await pick(page, bench.getByRole('button', { name: /^Comparison/ }), 'is');
  await pick(page, bench.getByRole('button', { name: /^Value: not chosen/ }), 'More photos');
  await expect(bench.getByRole('region', { name: 'What it takes' }).getByText(/of [\d,]+ interactions/)).toBeVisible();
  await press(page, bench.getByRole('region', { name: 'Dry run' }).getByRole('button', { name: 'Try it' }));
  await expect(bench.getByText(/^Compared with version/)).toBeVisible();
  await press(page, bench.getByRole('button', { name: 'Discard changes' }));
  await expect(bench.getByText(/part is still open/)).toBeVisible();
  await tabTo(page, bench.getByRole('button', { name: 'Definitions', exact: true }));
  await key(page, 'Escape');
  await expect(grid).toBeVisible();
});

test('a change of a rule is tried before it is published: what appears, whom it concerns, and what is worse asks why', async ({
  page,
  request,
}) => {
  interface Workplace {
    plan: { property: Record<string, { name: string; type: string }> };
  }
  const { plan } = (await (await request.get('/api/workplace')).json()) as Workplace;
  const [id, property] = Object.entries(plan.property).find(([, p]) => p.name === 'result_count')!;
  const set = (before: string, after: string) =>
    request.post('/api/edits', { data: { edits: [{ op: 'set', kind: 'property', id, field: 'type', before, after }], revisions: {}, label: 'Type', author: 'a' } }); // prettier-ignore
  expect((await set(property.type, 'string')).ok()).toBe(true);
  await page.goto('/plan/try');
  await page.getByRole('button', { name: 'Run it over the recorded messages' }).click();
  await expect(page.getByText(/^Compared with version/)).toBeVisible();
  await expect(page.getByText(/messages were judged anew/)).toBeVisible();
  await expect(page.getByRole('row', { name: /appears .*result_count.* where the plan says string/ }).first()).toBeVisible();

  await page.getByRole('button', { name: /^Publish version/ }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('region', { name: 'What it would do' }).getByText(/^Compared with version/)).toBeVisible({});
  await dialog.getByLabel('What changed, and why').fill('The count is a text now');
  const publish = dialog.getByRole('button', { name: 'Publish', exact: true });
  await expect(dialog.getByText(/may be relied on less/)).toBeVisible();
  await expect(publish).toBeDisabled();
  await dialog.getByLabel(/why publish anyway/).fill('to see that it is asked');
  await expect(publish).toBeEnabled();
  await page.keyboard.press('Escape');
  expect((await set('string', property.type)).ok()).toBe(true);
});

test('what one points at in a stand-in is named, with its history at once; by the focus as well as by the pointer', async ({ page }) => {
  await page.goto('/arrivals');
  await page.getByRole('button', { name: 'Stand-in' }).click();
  const web = page.frameLocator('iframe[title="Stand-in: web catalogue"]');
  await web.getByRole('button', { name: /Jigsaw/ }).first().click(); // prettier-ignore
  await expect(web.getByRole('button', { name: 'Reserve for 3 days' })).toBeVisible();
  await page.getByLabel('Name what I point at').check();
  const pointed = page.getByRole('region', { name: 'What is pointed at' });
  await expect(pointed.getByText(/Point at a button or a link/)).toBeVisible();
  await web.getByRole('button', { name: 'Reserve for 3 days' }).hover();
  await expect(pointed.getByText('Reserve for 3 days', { exact: true })).toBeVisible();
  await expect(pointed.getByText('reserve', { exact: true })).toBeVisible();
  // The demo's people pressed it for eight weeks, when it said something else.
  await expect(pointed.getByText(/times, by .* persons, in all history/)).toBeVisible();
  await expect(pointed.getByText(/It would take besides: “Reserve this tool”/)).toBeVisible();
  // Nothing happens on the page while one points.
  await web.getByRole('button', { name: 'Reserve for 3 days' }).click();
  await expect(web.getByText('Asking the desk …')).toBeHidden();
  await web.getByRole('button', { name: 'All tools' }).focus();
  await expect(pointed.getByText('All tools', { exact: true })).toBeVisible();
  await web.getByRole('button', { name: 'Reserve for 3 days' }).focus();
  await expect(pointed.getByLabel('Name of the definition')).toHaveValue('Reserve For 3 Days Pressed');
  await pointed.getByLabel('Name of the definition').fill('Reserved By Pointing');
  await page.keyboard.press('Enter');
  const bench = page.getByRole('main');
  await expect(bench.getByRole('heading', { name: 'Reserved By Pointing' })).toBeVisible();
  await expect(bench.getByRole('button', { name: 'Value: reserve' })).toBeVisible();
  await expect(bench.getByRole('region', { name: 'What it takes' }).getByText('Reserve Pressed', { exact: true })).toBeVisible();
});
