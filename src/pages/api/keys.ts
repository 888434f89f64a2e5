import type { APIRoute } from 'astro';
import { newKey } from '../../server/keys';

export const POST: APIRoute = ({ request }) => newKey(request);
