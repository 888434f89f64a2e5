import type { APIRoute } from 'astro';
import { begin, proposals } from '../../server/proposals';

export const GET: APIRoute = () => proposals();
export const POST: APIRoute = ({ request }) => begin(request);
