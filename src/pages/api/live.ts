import type { APIRoute } from 'astro';
import { live } from '../../server/messages';

export const GET: APIRoute = ({ request, url }) => live(request, url);
