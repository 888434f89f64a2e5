import type { APIRoute } from 'astro';
import { drift } from '../../server/arrival-views';

export const GET: APIRoute = ({ url }) => drift(url);
