import type { APIRoute } from 'astro';
import { figure } from '../../server/clearance';

export const POST: APIRoute = ({ request }) => figure(request);
