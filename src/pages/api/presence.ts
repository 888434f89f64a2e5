import type { APIRoute } from 'astro';
import { presence } from '../../server/people';

export const POST: APIRoute = ({ request }) => presence(request);
