import type { APIRoute } from 'astro';
import { analysed } from '../../server/analysis';

export const GET: APIRoute = ({ request }) => analysed(request);
