import type { APIRoute } from 'astro';
import { tryRules } from '../../server/identity';

export const POST: APIRoute = ({ request }) => tryRules(request);
