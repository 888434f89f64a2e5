import type { APIRoute } from 'astro';
import { backfill } from '../../server/backfill';

export const POST: APIRoute = ({ request }) => backfill(request);
