/** Requests that change something must come from this application's own pages; the intake is open to any origin, by its key. */
import { defineMiddleware } from 'astro:middleware';
import './server/intake-direct';
import './server/live-direct';

const SAFE = new Set(['GET', 'HEAD', 'OPTIONS']);

export const onRequest = defineMiddleware(({ request, url }, next) => {
  const origin = request.headers.get('origin');
  const foreign =
    origin !== null && origin !== 'null' ? new URL(origin).host !== (request.headers.get('host') ?? url.host) : origin === 'null';
  if (foreign && !SAFE.has(request.method) && url.pathname !== '/intake')
    return new Response(JSON.stringify({ error: 'foreign origin', detail: 'This request came from another site.' }), {
      status: 403,
      headers: { 'content-type': 'application/json' },
    });
  return next();
});
