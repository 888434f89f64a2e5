import type { APIRoute } from 'astro';
import { analysed } from '../../server/analysis';

export const POST: APIRoute = ({ request }) => analysed(request);
