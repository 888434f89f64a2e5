import type { APIRoute } from 'astro';
import { comment } from '../../server/people';

export const POST: APIRoute = ({ request }) => comment(request);
