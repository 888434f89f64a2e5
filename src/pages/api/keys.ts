import type { APIRoute } from 'astro';
import { keys, newKey } from '../../server/keys';

export const GET: APIRoute = ({ url }) => keys(url);
export const POST: APIRoute = ({ request }) => newKey(request);
