import type { APIRoute } from 'astro';
import { identityReport, materialise } from '../../server/identity';

export const GET: APIRoute = () => identityReport();
export const POST: APIRoute = ({ request }) => materialise(request);
