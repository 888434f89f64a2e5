/** Every address is opened: pages, answers, downloads; with the demo, empty, and with names that nobody thinks of. Nothing is an error of ours, and the log has none. */
import { createHash } from 'node:crypto';
import { afterEach, expect, test } from 'vitest';
import { answersOf, pagesOf, seenAt, type Seen } from '../build/addresses';
import { testDatabase, type Content } from '../build/database';
import { ODD_EDITS, ODD_SOURCES, oddMessages } from '../build/odd-workspace';
import { complaintsOf, endProcess, startProcess, type Running } from '../build/server';
import { until } from '../build/wait';

let server: Running | undefined;
afterEach(async () => {
  if (server) await endProcess(server, 'SIGTERM');
  server = undefined;
});

const post = async (path: string, body: unknown, headers: Readonly<Record<string, string>> = {}): Promise<unknown> => {
  const r = await fetch(server!.url + path, { method: 'POST', headers: { 'content-type': 'application/json', ...headers }, body: JSON.stringify(body) }); // prettier-ignore
  if (!r.ok) throw new Error(`${path}: ${r.status} ${await r.text()}`);
  return r.json();
};

const oddly = async (): Promise<void> => {
  await post('/api/edits', { edits: ODD_EDITS, label: 'odd', author: 'Ines' });
  await post('/api/publish', { note: 'odd' });
  for (const [i, sourceId] of ODD_SOURCES.entries()) {
    const { key } = (await post('/api/keys', { sourceId, label: 'odd' })) as { key: string };
    await post('/intake', oddMessages(i, Date.now()), { authorization: `Bearer ${key}` });
  }
};

const AT_ONCE = 6;

/** What is answered with 500 and above, or by a page that was broken off. */
const failuresOf = async (seen: Seen, token: string): Promise<string[]> => {
  const failed: string[] = [];
  const queue = [...pagesOf(seen), ...answersOf(seen)];
  const work = async (): Promise<void> => {
    for (let path = queue.shift(); path !== undefined; path = queue.shift()) {
      const r = await fetch(server!.url + path, { headers: path.startsWith('/api/answers') ? { authorization: `Bearer ${token}` } : {} });
      const text = await r.text();
      // While the analysis has not read anything yet, or nobody does it, a view says so: that is no error of ours.
      const isPage = r.headers.get('content-type')?.includes('text/html') === true && r.headers.get('content-disposition') === null;
      if (r.status >= 500 || (r.headers.get('content-type')?.includes('text/html') && !text.trimEnd().endsWith('</html>')))
        failed.push(`${path}: ${r.status} ${text.slice(0, 200)}`);
      // What stands in a page is known to its policy, which knows nothing of the page.
      for (const [, script] of (isPage ? text : '').matchAll(/<script(?![^>]*\ssrc=)[^>]*>([\s\S]*?)<\/script>/gi))
        if (!r.headers.get('content-security-policy')!.includes(createHash('sha256').update(script!).digest('base64')))
          failed.push(`${path}: its policy does not know ${script!.slice(0, 80)}`);
    }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, work));
  return failed;
};

test.each<[string, Content, () => Promise<void>]>([
  ['the demo', { visitors: 300 }, () => Promise.resolve()],
  ['an empty workspace', 'empty', () => Promise.resolve()],
  ['odd names', 'empty', oddly],
])('%s', async (_, content, fill) => {
  server = await startProcess(await testDatabase('addresses_test', content));
  await fill();
  const { token } = (await post('/api/read-tokens', { label: 'addresses', author: 'Ana' })) as { token: string };
  const seen = await until('workspace', () => seenAt(server!.url));
  // Readers' pages are made in the background, once anything was published.
  if (Object.keys(seen.plan.question).length > 0)
    await until(
      'answers for readers',
      async () => (await (await fetch(`${server!.url}/answers`)).text()).includes('How many') || content !== 'empty',
    );
  expect(await failuresOf(seen, token)).toEqual([]);
  expect(complaintsOf(server)).toEqual([]);
});
