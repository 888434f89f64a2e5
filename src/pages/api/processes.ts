import type { APIRoute } from 'astro';
import { processes } from '../../server/processes';

export const GET: APIRoute = () => processes();
