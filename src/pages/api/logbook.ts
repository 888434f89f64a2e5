import type { APIRoute } from 'astro';
import { logbook } from '../../server/arrival-views';

export const GET: APIRoute = ({ url }) => logbook(url);
