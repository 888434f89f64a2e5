import type { APIRoute } from 'astro';
import { publishDraft } from '../../server/workplace';

export const POST: APIRoute = ({ request }) => publishDraft(request);
