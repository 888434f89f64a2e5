import type { APIRoute } from 'astro';
import { decide, proposal } from '../../server/proposals';

export const GET: APIRoute = ({ url }) => proposal(url.searchParams.get('id') ?? '');
export const POST: APIRoute = ({ request }) => decide(request);
