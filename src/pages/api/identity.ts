import type { APIRoute } from 'astro';
import { identity, materialise } from '../../server/identity';

export const GET: APIRoute = ({ url }) => identity(url);
export const POST: APIRoute = ({ request }) => materialise(request);
