import type { APIRoute } from 'astro';
import { findings, triage } from '../../server/findings';

export const GET: APIRoute = () => findings();
export const POST: APIRoute = ({ request }) => triage(request);
