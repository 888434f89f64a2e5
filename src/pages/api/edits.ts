import type { APIRoute } from 'astro';
import { edit } from '../../server/workplace';

export const POST: APIRoute = ({ request }) => edit(request);
