import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { expect, test, type Page } from '@playwright/test';

test('a finding is acknowledged, and opened again', async ({ page }) => {
  await page.goto('/arrivals');
  const open = page.getByRole('region', { name: 'Open' });
  await open.getByRole('button', { name: /^Clock runs ahead/ }).click();
  const finding = page.getByRole('article', { name: 'Finding' });
  await finding.getByRole('button', { name: 'Acknowledge …' }).click();
  await finding.getByLabel('Why it is acknowledged').fill('It is built next month.');
  await finding.getByLabel('Who fixes it').fill('Ravi');
  await finding.getByRole('button', { name: 'Acknowledge', exact: true }).click();
  await expect(finding.getByText(/It is built next month\. \(Ravi\)/)).toBeVisible();
  const known = page.getByRole('region', { name: 'Acknowledged' });
  await expect(known.getByRole('button', { name: /^Clock runs ahead/ })).toBeVisible();
  await page.reload();
  await expect(known).toBeVisible();
  await finding.getByRole('button', { name: 'Reopen' }).click();
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

test('by keyboard: buckets of a user property out of what arrived are kept in the plan; a message shows user properties then and now', async ({
  page,
}) => {
  await page.goto('/arrivals/user:tools_borrowed');
  await expect(page.getByText(/^It arrives and is planned, but is not registered/)).toBeVisible();
  const buckets = page.getByRole('region', { name: 'Buckets' });
  await buckets.getByLabel('by').focus();
  await page.keyboard.press('ArrowDown');
  await expect(buckets.getByLabel('by')).toHaveValue('round limits');
  await expect(buckets.getByRole('rowheader').first()).toHaveText(/^(up to )?\d+$/);
  const rows = await buckets.getByRole('row').count();
  expect(rows).toBeGreaterThan(1);
  await buckets.getByRole('button', { name: 'Save buckets' }).focus();
  await page.keyboard.press('Enter');
  await expect(buckets.getByText('these are kept in the plan')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(buckets.getByRole('button', { name: 'Save buckets' })).toBeVisible();

  const newest = (await (await page.request.get('/api/messages?limit=500')).json()) as { body: Record<string, Record<string, string>> }[];
  const own = newest.find((m) => m.body['user_properties'] && /^m-\d+$/.test(m.body['ids']?.['user'] ?? ''))!.body['ids']!['user']!;
  await page.getByRole('button', { name: 'Logbook of a person' }).focus();
  await page.keyboard.press('Enter');
  await page.getByLabel('Find a person by an identifier').focus();
  await page.keyboard.type(own);
  await expect(page.getByRole('button', { name: new RegExp(`^${own} ?user$`) })).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: own, exact: true })).toBeVisible();
  const messages = page.getByRole('list', { name: 'Messages of this person' }).getByRole('listitem');
  await messages.first().getByRole('button').focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('complementary', { name: 'Margin' }).getByText('User properties then and now')).toBeVisible();
});

test('the live view follows the traffic that is chosen above; what is of other traffic is counted, and shown when it is asked for', async ({
  page,
}) => {
  const { key } = (await (await page.request.post('/api/keys', { data: { sourceId: 'web', label: 'traffic' } })).json()) as { key: string };
  const send = async (name: string, more: object): Promise<void> => {
    const data = [
      {
        id: `${name}-${Date.now()}`,
        name,
        time: new Date().toISOString(),
        ids: { anonymous: 'a-traffic-1' },
        properties: {},
        release: '1',
        ...more,
      },
    ];
    expect((await page.request.post('/intake', { headers: { authorization: `Bearer ${key}` }, data })).ok()).toBe(true);
  };
  await send('Counted Here', {});
  await send('Marked Here', { marks: ['internal'] });
  await send('Tried Here', { environment: 'trial run' });
  const list = page.getByRole('list', { name: 'Messages, newest first' });
  await page.goto('/arrivals/live');
  await expect(list.getByText('Counted Here', { exact: true })).toBeVisible();
  await expect(list.getByText('Marked Here', { exact: true })).toHaveCount(0);
  await expect(list.getByText('Tried Here', { exact: true })).toHaveCount(0);
  await page.getByRole('button', { name: 'Look at all', exact: true }).click();
  await expect(list.getByText('Marked Here', { exact: true })).toBeVisible();
  await expect(list.getByText('Tried Here', { exact: true })).toBeVisible();
  await page.goto('/arrivals/live?traffic=nowhere');
  await expect(page.getByText('Nothing arrived: nowhere, unmarked.')).toBeVisible();
  await expect(page.getByText(/of other traffic came/)).toBeVisible();
});

test('a file with bad rows is brought in: mapped, reported, and counted once when it comes again', async ({ page }) => {
  const run = Date.now();
  const rows = Array.from({ length: 1500 }, (_, i) =>
    [
      `${run}-${i}`,
      'Tool Viewed',
      i === 40 ? 'never' : `2026-09-0${1 + (i % 9)} 10:00:${String(i % 60).padStart(2, '0')}`,
      `a-file-${i % 70}`,
      'T-0077',
    ].join(),
  );
  rows[90] += ',too much';
  const file = {
    name: 'history.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(['message_id,event,time,visitor,tool_id', ...rows].join('\r\n')),
  };
  await page.goto('/arrivals');
  await page.getByRole('button', { name: 'Import messages' }).click();
  await page.getByLabel('File of messages').setInputFiles(file);
  await page.getByLabel('as sent by').selectOption({ label: 'Web catalogue' });
  await page.getByLabel('Meaning of column visitor').selectOption('ids.anonymous');
  await page.getByRole('button', { name: 'Import', exact: true }).click();
  const report = page.getByRole('status', { name: 'Report' });
  await expect(report.getByRole('heading', { name: 'The file is imported.' })).toBeVisible();
  await expect(report.getByText(/^accepted/).locator('..')).toContainText('1,498');
  await expect(report.getByRole('listitem')).toHaveText([/row 42.*“never” is no time/, /row 92.*6 cells, where the header has 5/]);
  await page.getByRole('button', { name: 'Import', exact: true }).click();
  await expect(report.getByText('already recorded').locator('..')).toContainText('1,498');
});

/** The finding of a planted fault, from the line alone: the station, the finding, and what its bench says. */
const causeOf = async (page: Page, finding: RegExp): Promise<string> => {
  await page
    .getByRole('navigation', { name: 'Stations' })
    .getByRole('link', { name: /^Arrivals/ })
    .click();
  await page.getByRole('region', { name: 'Open' }).getByRole('button', { name: finding }).first().click();
  return page.getByRole('article', { name: 'Finding' }).innerText();
};

test('by keyboard: messages of another environment are looked at alone, and production again', async ({ page, request }) => {
  const minted = await request.post('/api/keys', { data: { sourceId: 'web', label: 'rehearsal' } });
  const { key } = (await minted.json()) as { key: string };
  const messages = Array.from({ length: 3 }, (_, i) => ({
    id: `rehearsal-${Date.now()}-${i}`,
    name: 'Rehearsal Held',
    time: new Date().toISOString(),
    ids: { anonymous: `a-rehearsal-${i}` },
    environment: 'rehearsal',
    properties: {},
    release: '1',
  }));
  const sent = await request.post('/intake', { headers: { authorization: `Bearer ${key}` }, data: messages });
  expect(sent.ok()).toBe(true);
  await page.goto('/arrivals');
  const open = page.getByRole('region', { name: 'Open' });
  await expect(open.getByRole('button').first()).toBeVisible();
  await expect(open.getByText('Rehearsal Held')).toHaveCount(0);
  await page.getByRole('button', { name: 'production, unmarked' }).focus();
  await page.keyboard.press('Enter');
  const dialog = page.getByRole('dialog', { name: 'Traffic' });
  await expect(
    dialog
      .getByRole('row', { name: /^rehearsal/ })
      .getByRole('cell')
      .first(),
  ).toHaveText(/^[1-9]\d*$/);
  await dialog.getByLabel('Environment').focus();
  await page.keyboard.type('rehearsal');
  await page.keyboard.press('Escape');
  await expect(page).toHaveURL(/rehearsal/);
  await expect(open.getByRole('button', { name: /Rehearsal Held/ })).toBeVisible();
  await expect(open.getByRole('button', { name: /^Shared device/ })).toHaveCount(0);
  // The choice goes along to the other stations, and with the address.
  await page
    .getByRole('navigation', { name: 'Stations' })
    .getByRole('link', { name: /^Identity/ })
    .focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: /^The same \d+ messages/ })).toBeVisible();
  await page.reload();
  await expect(page.getByRole('heading', { name: /^The same \d+ messages/ })).toBeVisible();
  await page.getByRole('button', { name: /^rehearsal/ }).focus();
  await page.keyboard.press('Enter');
  await dialog.getByRole('button', { name: 'Back to production' }).focus();
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('button', { name: 'production, unmarked' })).toBeVisible();
  await expect(page.getByRole('heading', { name: /^The same [\d,]{4,} messages/ })).toBeVisible();
});

test('the causes of three faults are found from the line alone', async ({ page }) => {
  await page.goto('/questions');
  const unit = await causeOf(page, /^Unit looks wrong/);
  expect(unit).toContain('loan_days in hours, where the plan says days');
  expect(unit).toContain('android 3.4.0');
  const examples = page.getByRole('article', { name: 'Finding' }).getByRole('button', { name: /loan_days/ });
  await expect(examples).toHaveCount(5);
  await page.getByRole('button', { name: /^Show (all|the newest)/ }).click();
  await expect.poll(() => examples.count()).toBeGreaterThan(20);
  const device = await causeOf(page, /^Shared device/);
  expect(device).toContain('signs people in one after another');
  const premature = await causeOf(page, /^Premature trigger/);
  expect(premature).toContain('8.1.0, 8.2.0, 8.2.1');
  await page.getByRole('button', { name: 'Client vs. server' }).click();
  await expect(page.getByRole('row', { name: /8\.0\.3/ })).toContainText('0.0 %');
});

test('one person over the phone, the kiosk and the server in one logbook; a fault switched on and off shows in the live view', async ({
  page,
}) => {
  await page.goto('/arrivals');
  await page.getByRole('button', { name: 'Stand-in' }).click();
  const tab = (name: string) => page.getByRole('tab', { name }).click();
  const phone = page.frameLocator('iframe[title="Stand-in: phone app"]');
  const kiosk = page.frameLocator('iframe[title="Stand-in: kiosk"]');
  const live = page.getByRole('region', { name: 'Live view' });
  await tab('Phone');
  await phone.getByRole('button', { name: 'Account' }).click();
  const signIn = () => phone.getByRole('button', { name: 'Sign in with a passkey' }).click();
  await phone.getByLabel('Swaps name and value of the home branch').check();
  await signIn();
  await expect(phone.getByText('Signed In accepted with findings')).toBeVisible();
  await expect(live.getByRole('button', { name: /Signed In.*home_branch/ }).first()).toBeVisible();
  // A message beside the stand-in and the live view: the list of findings gives way, and nothing is cut to a letter.
  await live
    .getByRole('button', { name: /Signed In.*home_branch/ })
    .first()
    .click();
  await expect(page.getByRole('complementary', { name: 'Margin' }).getByText('home_branch').first()).toBeVisible();
  await expect(page.getByRole('region', { name: 'Findings' })).toBeHidden();
  expect((await live.boundingBox())!.width).toBeGreaterThan(400);
  await page.getByRole('button', { name: 'Close the margin' }).click();
  await expect(page.getByRole('region', { name: 'Findings' })).toBeVisible();
  await phone.getByRole('button', { name: 'Sign out' }).click();
  await expect(phone.getByText('Signed Out accepted')).toBeVisible();
  await phone.getByLabel('Swaps name and value of the home branch').uncheck();
  await signIn();
  await expect(phone.getByText('Signed In accepted', { exact: true })).toBeVisible();
  const member = (await phone.getByText(/^Signed in as m-/).innerText()).replace(/^Signed in as |\.$/g, '');
  await phone.getByRole('button', { name: 'Shelf' }).click();
  await phone.getByRole('button', { name: /Jigsaw/ }).click();
  for (let i = 0; i < 2; i++) {
    await phone.getByRole('button', { name: 'Reserve for 3 days' }).click();
    await expect(phone.getByText('Reserved. Bring your card.')).toBeVisible();
  }
  // Only me: both requests and the server's answers.
  await live.getByRole('button', { name: 'This is me' }).click();
  await live.getByLabel('An identifier of mine').fill(member);
  await page.keyboard.press('Enter');
  await expect(live.getByRole('button', { name: /Reservation Confirmed/ })).toHaveCount(2);
  await expect(live.getByText(/Not signed in/)).toBeHidden();
  // Two of the messages become a question.
  await live.getByRole('button', { name: 'Pick', exact: true }).click();
  await live.getByLabel('Pick Reservation Confirmed').first().check();
  await live.getByLabel('Pick Signed In').first().check();
  await live.getByLabel('Condition of step 1').selectOption({ label: 'sign_in_method is "passkey"' });
  await live.getByRole('button', { name: 'Create question' }).click();
  await expect(page).toHaveURL(/\/questions\//);
  await expect(page.getByText('Signed In, then Reservation Confirmed').first()).toBeVisible();
  // The same member at the kiosk and in the catalogue: one logbook over four sources.
  await page.goto('/arrivals');
  await page.getByRole('button', { name: 'Stand-in' }).click();
  await tab('Kiosk');
  await kiosk.getByRole('button', { name: `The card of ${member}` }).click();
  await expect(kiosk.getByText('Signed In accepted')).toBeVisible();
  await tab('Web');
  const web = page.frameLocator('iframe[title="Stand-in: web catalogue"]');
  await web.getByRole('button', { name: 'Sign out' }).click();
  await expect(web.getByText(/Signed Out accepted/)).toBeVisible();
  await page.goto(`/arrivals/logbook:user:${member}`);
  const list = page.getByRole('list', { name: 'Messages of this person' });
  await expect(list.getByRole('listitem').filter({ hasText: 'Reservation Confirmed' })).toHaveCount(2);
  await expect(list.getByRole('listitem').filter({ hasText: 'Signed In' })).toHaveCount(2);
  await expect(list.getByRole('listitem').filter({ hasText: 'Signed Out' })).toHaveCount(1);
  for (const source of ['Phone app', 'Web catalogue', 'Branch kiosk', 'Lending desk'])
    await expect(list.getByRole('img', { name: source }).first()).toBeVisible();
  await expect(page.getByText('home_branch, now')).toBeVisible();
});

test('a page of another origin sends by fetch and by beacon; over its limit it can read how long to wait', async ({
  page,
  request,
  baseURL,
}) => {
  const elsewhere = createServer((_, response) => response.setHeader('content-type', 'text/html').end('<title>Elsewhere</title>'));
  await new Promise<void>((up) => elsewhere.listen(0, '127.0.0.1', up));
  let tries = 0;
  try {
    await page.goto(`http://127.0.0.1:${(elsewhere.address() as AddressInfo).port}/`);
    // A limit counts by the minute of the clock: where one ends in the midst of this, it is begun anew, with a key of its own.
    await expect(async () => {
      const minted = await request.post('/api/keys', { data: { sourceId: 'web', label: 'elsewhere', perMinute: 3 } });
      const { key } = (await minted.json()) as { key: string };
      const visitor = `a-elsewhere-${++tries}`;
      const send = (how: 'fetch' | 'beacon', count: number): Promise<[number, string | null]> =>
        page.evaluate(
          async ([base, writeKey, anonymous, by, n]) => {
            const messages = Array.from({ length: n }, () => ({
              id: crypto.randomUUID(),
              name: 'Signed Out',
              time: new Date().toISOString(),
              ids: { anonymous },
            }));
            if (by === 'beacon') return [Number(navigator.sendBeacon(`${base}/intake?key=${writeKey}`, JSON.stringify(messages))), null];
            const response = await fetch(`${base}/intake`, {
              method: 'POST',
              headers: { authorization: `Bearer ${writeKey}`, 'content-type': 'application/json' },
              body: JSON.stringify(messages),
            });
            return [response.status, response.headers.get('retry-after')];
          },
          [baseURL!, key, visitor, how, count] as const,
        );
      const arrived = async (): Promise<number> => {
        const newest = (await (await request.get('/api/messages?limit=30')).json()) as { body: { ids: Record<string, string> } }[];
        return newest.filter((m) => m.body.ids['anonymous'] === visitor).length;
      };
      expect(await send('fetch', 2)).toEqual([200, null]);
      expect((await send('beacon', 1))[0]).toBe(1);
      await expect.poll(arrived).toBe(3);
      const [status, retryAfter] = await send('fetch', 2);
      expect([status, Number(retryAfter) > 0]).toEqual([429, true]);
      expect(await arrived()).toBe(3);
    }).toPass();
  } finally {
    elsewhere.close();
  }
});
