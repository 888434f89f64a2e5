import type { APIRoute } from 'astro';
import { list, replay } from '../../server/dead-letters';

export const GET: APIRoute = ({ url }) => list(url);
export const POST: APIRoute = ({ request }) => replay(request);
