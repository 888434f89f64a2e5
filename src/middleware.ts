/** What every request passes first: the name that it was sent to, the page that it came from, an ID for the log; and what every answer goes out with. */
import { randomUUID } from 'node:crypto';
import { defineMiddleware } from 'astro:middleware';
import { notHere, problem, responseOf, unavailable, unavailableSaid } from './server/answer';
import { DATA_POLICY, EVERYWHERE, isForeign, isOwnHost, pagePolicy } from './server/doors';
import { answerHere, theAnalysis } from './server/analysis';
import { unlessHanging } from './server/hanging';
import { CORS } from './server/intake';
import './server/intake-direct';
import './server/live-direct';
import { asRequest, log, logError } from './server/log';
import { join } from './server/processes';
import { runtime } from './server/runtime';
import { ownRoles, type Role } from './server/roles';
import { mailboxWhereAsked } from './server/stand-in-post';

// It begins with the server, not with the first who asks.
theAnalysis();
if (runtime.address !== '') join();
mailboxWhereAsked();
if (import.meta.env.DEV) answerHere((await import('./analysis/views')).VIEWS);

const PAGE_POLICY = pagePolicy();
const SAFE = new Set(['GET', 'HEAD', 'OPTIONS']);
const ON_PAGES = new Set(['GET', 'HEAD', 'POST', 'OPTIONS']);
/** Any name may be used for these, and any page: a key is what they go by. */
const OPEN: ReadonlySet<string> = new Set(['/intake', '/intake/known']);

/** What a process has to do to answer this; every one says how it is. */
const needed = (path: string): Role | undefined =>
  OPEN.has(path) ? 'intake' : path === '/api/alive' || path === '/api/health' ? undefined : 'web';

const guarded = async (request: Request, url: URL, next: () => Promise<Response>): Promise<Response> => {
  const host = request.headers.get('host') ?? url.host;
  if (!OPEN.has(url.pathname)) {
    if (!isOwnHost(host))
      return problem(
        421,
        'unknown name',
        `Signal Post does not answer as “${host}”. Add the name to SIGNAL_POST_HOSTS and start it again.`,
      );
    if (!SAFE.has(request.method) && isForeign(request.headers.get('origin'), host))
      return problem(403, 'foreign origin', 'This request came from another site.');
  }
  const role = needed(url.pathname);
  if (role && !ownRoles.has(role) && !(role === 'web' && ownRoles.has('analysis') && url.pathname.startsWith('/api/')))
    return problem(
      503,
      'not done here',
      `This process has the ${ownRoles.size === 1 ? 'role' : 'roles'} ${[...ownRoles].join(', ')}; ask one with the role “${role}”.`,
    );
  // Pictures are not made smaller by request: anybody could keep the server busy with it.
  if (url.pathname.startsWith('/_image')) return notHere();
  if (OPEN.has(url.pathname) && !['POST', 'OPTIONS'].includes(request.method))
    return problem(405, 'wrong method', `${url.pathname} takes POST, OPTIONS.`, { allow: 'POST, OPTIONS' });
  // What has endpoints says itself what it takes.
  if (!OPEN.has(url.pathname) && !url.pathname.startsWith('/api/') && !ON_PAGES.has(request.method))
    return problem(405, 'wrong method', `A page takes ${[...ON_PAGES].join(', ')}.`, { allow: [...ON_PAGES].join(', ') });
  return next();
};

export const onRequest = defineMiddleware(({ request, url }, next) => {
  const given = request.headers.get('x-request-id') ?? '';
  const id = /^[\w-]{1,64}$/.test(given) ? given : randomUUID();
  return asRequest(id, async () => {
    let response: Response;
    try {
      response = await unlessHanging(guarded(request, url, next), () =>
        OPEN.has(url.pathname) ? responseOf(unavailableSaid(CORS)) : unavailable(),
      );
    } catch (e) {
      logError(e);
      response = problem(500, 'unexpected error', 'The server met an error that it did not expect; its log says more.');
    }
    // That it is not ready yet is what whoever waits for it asks.
    const isAsked = url.pathname === '/api/health' && response.status === 503;
    if (response.status >= 500)
      log[isAsked ? 'debug' : 'warn']({ method: request.method, path: url.pathname, status: response.status }, 'answered');
    const headers = new Headers(response.headers);
    headers.set('x-request-id', id);
    for (const [name, value] of Object.entries(EVERYWHERE)) headers.set(name, value);
    const isPage = headers.get('content-type')?.startsWith('text/html') === true;
    headers.set('content-security-policy', isPage ? PAGE_POLICY : DATA_POLICY);
    return new Response(response.body, { status: response.status, headers });
  });
});
