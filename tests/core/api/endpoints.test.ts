/** The contracts: each is answered exactly once, and their description is what they are. */
import { describe, expect, it } from 'vitest';
import { ANALYSED } from '../../../src/analysis/views';
import { endpoint, answer } from '../../../src/core/api/endpoint';
import { ENDPOINTS, endpointsAt, matchPath } from '../../../src/core/api/index';
import { pathOf } from '../../../src/client/api';
import { SERVED } from '../../../src/server/endpoints';
import { serve } from '../../../src/server/serve';
import { z } from 'zod';

const addressOf = (e: { method: string; path: string }): string => `${e.method} ${e.path}`;

describe('the list of endpoints', () => {
  it('has each address once', () => {
    const all = ENDPOINTS.map(addressOf);
    expect(all.filter((a, i) => all.indexOf(a) !== i)).toEqual([]);
  });

  it('has one handler for each, where its contract says', () => {
    const handled = (list: readonly { endpoint: { method: string; path: string } }[]) => list.map((s) => addressOf(s.endpoint)).sort();
    const listed = (by: string) =>
      ENDPOINTS.filter((e) => e.answeredBy === by)
        .map(addressOf)
        .sort();
    expect(handled(SERVED)).toEqual(listed('web'));
    expect(handled(ANALYSED)).toEqual(listed('analysis'));
    expect(listed('intake')).toEqual(['POST /intake', 'POST /intake/known']);
  });

  it('is found by address, a part in braces being one segment', () => {
    expect(endpointsAt('/api/findings').map(addressOf)).toEqual(['POST /api/findings', 'GET /api/findings']);
    expect(matchPath('/api/schema/{event}', '/api/schema/posted')).toEqual({ event: 'posted' });
    for (const wrong of ['/api/schema', '/api/schema/', '/api/schema/a/b', '/api', '/api/findings/x'])
      expect(endpointsAt(wrong)).toEqual([]);
  });
});

describe('what is asked', () => {
  const counted = endpoint({
    method: 'POST',
    path: '/api/test/{name}',
    title: 'A test',
    role: 'reader',
    query: z.object({ name: z.string(), days: z.coerce.number<number>().int().min(1).default(7) }),
    body: z.object({ list: z.array(z.string()).max(2) }),
    answer: answer<{ name: string; days: number; list: readonly string[] }>('What was given.'),
  });
  const { handle } = serve(counted, ({ query, body }) => ({ ...query, ...body }));
  const send = async (path: string, body: string) => {
    const r = await handle(new Request(`http://here${path}`, { method: 'POST', body }));
    return [r.status, await r.json()];
  };

  it('comes to the handler by the schema, with defaults and parts of the path', async () => {
    expect(await send('/api/test/a%20b?days=3', '{"list":["x"]}')).toEqual([200, { name: 'a b', days: 3, list: ['x'] }]);
    expect(await send('/api/test/a', '{"list":[]}')).toEqual([200, { name: 'a', days: 7, list: [] }]);
  });

  it('is turned down with what is wrong, and where', async () => {
    const [status, { detail }] = await send('/api/test/a?days=none', '{"list":[]}');
    expect([status, detail]).toEqual([400, expect.stringMatching(/^days: /)]);
    const [second, body] = await send('/api/test/a', '{"list":["a","b","c"]}');
    expect([second, body.detail]).toEqual([400, expect.stringMatching(/^list: /)]);
    expect((await send('/api/test/a', '{'))[0]).toBe(400);
    // Half of an escape is no text.
    expect((await send('/api/test/%E0%A4', '{"list":[]}'))[0]).toBe(400);
  });

  it('is written into the address by the client, without what is left out', () => {
    expect(pathOf('GET /api/findings')).toBe('/api/findings');
    expect(pathOf('GET /api/volume', { event: 'A & B', source: undefined })).toBe('/api/volume?event=A+%26+B');
  });
});
