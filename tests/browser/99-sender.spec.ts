/** The sender in Chromium, against the real intake: nothing is lost, nothing counts twice, and the order is kept. */
import { expect, test, type BrowserContext, type Page } from '@playwright/test';
import pg from 'pg';

interface Told {
  event(name: string, properties: Record<string, unknown>): void;
  flush(): Promise<void>;
  readonly waiting: number;
  readonly anonymousId: string;
}
declare global {
  interface Window {
    sender: Told;
  }
}

const database = async <T extends pg.QueryResultRow>(sql: string, values: unknown[]): Promise<T[]> => {
  const client = new pg.Client({ connectionString: process.env['BROWSER_DATABASE_URL'] });
  await client.connect();
  const { rows } = await client.query<T>(sql, values);
  await client.end();
  return rows;
};

/** The numbers of the messages that were stored under a release, in the order in which they were sent, by their IDs. */
const stored = async (release: string): Promise<number[]> =>
  (
    await database<{ n: number; message_id: string }>(
      `select (body->'properties'->>'query_length')::int as n, message_id from messages where release = $1 order by message_id`,
      [release],
    )
  ).map((r) => r.n);

const newKey = async (page: Page): Promise<string> => {
  const r = await page.request.post('/api/keys', { data: { sourceId: 'web', label: 'sender test' } });
  return ((await r.json()) as { key: string }).key;
};

/** A page with a sender on it. */
const withSender = async (page: Page, key: string, release: string, more: object = {}, adds: readonly string[] = []): Promise<void> => {
  await page.goto('/answers/glossary');
  await page.evaluate(
    async ({ key, release, more, adds }) => {
      const [file, beside] = ['/downloads/signal-post-sender.js', '/downloads/signal-post-page.js'];
      const added = (await import(beside)) as Record<string, () => unknown>;
      const { createSender } = (await import(file)) as { createSender: (o: object) => Told };
      window.sender = createSender({ endpoint: '/intake', key, release, waitMs: 50, with: adds.map((a) => added[a]!()), ...more });
    },
    { key, release, more, adds },
  );
};

const send = (page: Page, from: number, to: number): Promise<void> =>
  page.evaluate(
    ([from, to]) => {
      for (let n = from!; n < to!; n++) window.sender.event('Catalogue Searched', { query_length: n, result_count: 1, branch: 'Quayside' });
    },
    [from, to],
  );

const numbers = (n: number): number[] => Array.from({ length: n }, (_, i) => i);
const unlike = (list: readonly number[]): number[] => [...new Set(list)];
let runs = 0;
const ofRun = (): string => `sender-${Date.now()}-${++runs}`;

const all = async (release: string, n: number): Promise<void> => {
  await expect.poll(() => stored(release).then((s) => s.length)).toBe(n);
  // In order by the IDs, each once.
  expect(await stored(release)).toEqual(numbers(n));
};

test('the network is cut and comes back', async ({ page, context }) => {
  const [release, key] = [ofRun(), await newKey(page)];
  await withSender(page, key, release);
  await send(page, 0, 10);
  await context.setOffline(true);
  await send(page, 10, 60);
  await expect.poll(() => page.evaluate(() => window.sender.waiting)).toBeGreaterThanOrEqual(50);
  await context.setOffline(false);
  await all(release, 60);
  await expect.poll(() => page.evaluate(() => window.sender.waiting)).toBe(0);
});

test('the page is closed while the network is cut: the next page sends it, as the same visitor', async ({ page, context }) => {
  const [release, key] = [ofRun(), await newKey(page)];
  await withSender(page, key, release);
  const visitor = await page.evaluate(() => window.sender.anonymousId);
  await context.setOffline(true);
  await send(page, 0, 40);
  await page.close({ runBeforeUnload: false });
  await context.setOffline(false);
  const next = await context.newPage();
  await withSender(next, key, release);
  expect(await next.evaluate(() => window.sender.anonymousId)).toBe(visitor);
  await send(next, 40, 50);
  await all(release, 50);
});

test('the page goes away right after: what it hands over arrives', async ({ page }) => {
  const [release, key] = [ofRun(), await newKey(page)];
  await withSender(page, key, release, { waitMs: 60_000 });
  await send(page, 0, 5);
  await page.goto('/answers');
  await all(release, 5);
  // Seen again, the same page sends it once more under the same IDs, which counts once.
  await withSender(page, key, release);
  await page.evaluate(() => window.sender.flush());
  await all(release, 5);
});

test('somebody walks through a site of several pages: each message once and in order, and hardly one sent again', async ({ page }) => {
  const [release, key] = [ofRun(), await newKey(page)];
  const repeats = async (): Promise<number> =>
    Number(
      (await database<{ n: string }>('select coalesce(sum(duplicates), 0) as n from intake_counts where source_id = $1', ['web']))[0]!.n,
    );
  const before = await repeats();
  const PAGES = 20;
  for (let i = 0; i < PAGES; i++) {
    // Some are left while a request is on its way, some before one was made.
    await withSender(page, key, release, { waitMs: [1, 30, 60_000][i % 3] });
    await send(page, i * 5, i * 5 + 5);
  }
  await withSender(page, key, release);
  await page.evaluate(() => window.sender.flush());
  await all(release, PAGES * 5);
  await expect.poll(() => page.evaluate(() => window.sender.waiting)).toBe(0);
  expect((await repeats()) - before).toBeLessThanOrEqual(PAGES * 5 * 0.05);
});

test('the server answers 503, then 429, then takes it', async ({ page }) => {
  const [release, key] = [ofRun(), await newKey(page)];
  await withSender(page, key, release);
  let asked = 0;
  await page.route('**/intake', async (route) => {
    asked++;
    if (asked === 1) await route.fulfill({ status: 503, headers: { 'retry-after': '1' }, body: '{"detail":"busy"}' });
    else if (asked === 2) await route.fulfill({ status: 429, headers: { 'retry-after': '1' }, body: '{"detail":"slow down"}' });
    else await route.continue();
  });
  await send(page, 0, 120);
  await all(release, 120);
  expect(asked).toBeGreaterThanOrEqual(4);
});

test('an answer that is lost: the same messages come again, and count once', async ({ page }) => {
  const [release, key] = [ofRun(), await newKey(page)];
  await withSender(page, key, release);
  let asked = 0;
  await page.route('**/intake', async (route) => {
    asked++;
    if (asked > 2) return route.continue();
    // It arrives; what the server says does not.
    await route.fetch();
    return route.abort('connectionreset');
  });
  await send(page, 0, 30);
  await expect.poll(() => asked).toBeGreaterThan(2);
  await all(release, 30);
});

test('the storage is full: what waits is kept in memory, and sent', async ({ page, context }) => {
  const [release, key] = [ofRun(), await newKey(page)];
  await withSender(page, key, release);
  await page.evaluate(() => {
    let size = 1_000_000;
    let n = 0;
    while (size > 10)
      try {
        localStorage.setItem(`filler-${n++}`, 'x'.repeat(size));
      } catch {
        size = Math.floor(size / 2);
      }
  });
  await context.setOffline(true);
  await send(page, 0, 80);
  await context.setOffline(false);
  await all(release, 80);
  await page.evaluate(() => localStorage.clear());
});

const tab = async (context: BrowserContext, key: string, release: string): Promise<Page> => {
  const page = await context.newPage();
  await withSender(page, key, release);
  return page;
};

test('two tabs at once, one of which is closed: one visitor, each message once', async ({ page, context }) => {
  const [release, key] = [ofRun(), await newKey(page)];
  const [one, two] = [await tab(context, key, release), await tab(context, key, release)];
  expect(await one.evaluate(() => window.sender.anonymousId)).toBe(await two.evaluate(() => window.sender.anonymousId));
  await context.setOffline(true);
  await send(one, 0, 30);
  await send(two, 30, 60);
  // What the closed one left is taken over by the other, which was open all the while.
  await one.close();
  await context.setOffline(false);
  await expect.poll(() => stored(release).then((s) => s.length)).toBe(60);
  expect(unlike(await stored(release)).sort((a, b) => a - b)).toEqual(numbers(60));
  // Each tab in its own order.
  const got = await stored(release);
  expect(got.filter((n) => n < 30)).toEqual(numbers(30));
  expect(got.filter((n) => n >= 30)).toEqual(numbers(60).slice(30));
});

test('raw interactions: what is pressed is told with its text and place; what is written into a field, or private, is not', async ({
  page,
}) => {
  const [release, key] = [ofRun(), await newKey(page)];
  await withSender(page, key, release, {}, ['interactions']);
  await page.evaluate(() => {
    document.body.innerHTML = `<main><button data-part="reserve">Reserve now</button><input aria-label="Your e-mail" value="ada@example.org">
      <textarea>secret text</textarea><div data-private><button>Ada Lovelace</button></div></main>`;
  });
  await page.getByRole('button', { name: 'Reserve now' }).click();
  await page.getByLabel('Your e-mail').click();
  await page.locator('textarea').click();
  await page.getByRole('button', { name: 'Ada Lovelace' }).click();
  const kept = (): Promise<{ body: { kind: string; properties: { element: Record<string, string> } } }[]> =>
    database('select body from messages where release = $1 order by message_id', [release]);
  await expect.poll(() => kept().then((m) => m.length)).toBe(4);
  const elements = (await kept()).map((m) => m.body.properties.element);
  expect(elements[0]).toEqual({ text: 'Reserve now', role: 'button', place: 'reserve' });
  expect(elements.map((e) => e['text'])).toEqual(['Reserve now', 'Your e-mail', '', '']);
  expect(JSON.stringify(elements)).not.toMatch(/ada@example|secret|Lovelace/);
});

interface Kept {
  readonly kind: string;
  readonly name?: string;
  readonly page?: string;
  readonly time: string;
  readonly properties?: Record<string, unknown>;
}
const keptOf = async (release: string): Promise<Kept[]> =>
  (await database<{ body: Kept }>('select body from messages where release = $1 order by message_id', [release])).map((r) => r.body);

test('views of an application that loads no page: each that is shown, once, whichever way it was come to', async ({ page }) => {
  const [release, key] = [ofRun(), await newKey(page)];
  await withSender(page, key, release, {}, ['views', 'pageContext']);
  await page.evaluate(() => {
    document.title = 'A tool';
    history.pushState({}, '', '/answers/one?mail=jo@example.org');
    history.replaceState({}, '', '/answers/one#part');
    window.sender.event('Tool Viewed', { tool_id: 'T-1' });
    history.pushState({}, '', '/answers/two');
    history.back();
  });
  await expect.poll(() => keptOf(release).then((m) => m.map((x) => `${x.kind} ${x.page}`))).toEqual(['view /answers/glossary', 'view /answers/one', 'event /answers/one', 'view /answers/two', 'view /answers/one']); // prettier-ignore
  const [first, , event] = await keptOf(release);
  expect(first!.properties).toMatchObject({ page_language: 'en' });
  expect(event!.properties).toMatchObject({ page_title: 'A tool', tool_id: 'T-1', screen_width: expect.any(Number) });
  expect(JSON.stringify(await keptOf(release))).not.toContain('example.org');
  // It ends with its sender, and leaves whoever else listens.
  await page.evaluate(async () => {
    await (window.sender as unknown as { stop(): Promise<void> }).stop();
    history.pushState({}, '', '/answers/three');
  });
  expect((await keptOf(release)).length).toBe(5);
});

test('a script without modules takes over what its stub kept, as of when it was said', async ({ page, request }) => {
  const [release, key] = [ofRun(), await newKey(page)];
  const stub = await (await request.get('/downloads/signal-post-stub.js')).text();
  const script = await (await request.get('/downloads/signal-post-script.js')).text();
  await page.goto('/answers/glossary');
  await page.evaluate(stub);
  await page.evaluate(
    ([key, release]) => {
      const post = (window as unknown as { signalPost: Record<string, (...given: unknown[]) => void> }).signalPost;
      const given = { n: 1 };
      post['event']!('Catalogue Searched', given);
      given.n = 2;
      post['start']!({ endpoint: '/intake', key, release, waitMs: 50, interactions: true, context: true });
    },
    [key, release],
  );
  const before = Date.now();
  await page.evaluate(script);
  await page
    .locator('a')
    .first()
    .evaluate((a) => {
      a.addEventListener('click', (e) => e.preventDefault());
      (a as HTMLElement).click();
    });
  await expect.poll(() => keptOf(release).then((m) => m.map((x) => x.kind))).toEqual(['event', 'interaction']);
  const [event, pressed] = await keptOf(release);
  expect(event!.properties).toMatchObject({ n: 1, page_language: 'en' });
  expect(Date.parse(event!.time)).toBeLessThanOrEqual(before);
  expect((pressed!.properties!['element'] as Record<string, string>)['link']).toMatch(/^\//);
});

test('the file is at most 5 kB, packed', async ({ request }) => {
  const { gzipSync } = await import('node:zlib');
  const text = await (await request.get('/downloads/signal-post-sender.js')).text();
  expect(gzipSync(text, { level: 9 }).length).toBeLessThanOrEqual(5000);
  expect(text).not.toMatch(/\bfrom\s*["']|require\(/);
});
