import type { APIRoute } from 'astro';
import { findings, triage } from '../../server/findings';

export const GET: APIRoute = ({ url }) => findings(url);
export const POST: APIRoute = ({ request }) => triage(request);
