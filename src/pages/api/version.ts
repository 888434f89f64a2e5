import type { APIRoute } from 'astro';
import { version } from '../../server/history';

export const GET: APIRoute = ({ url }) => version(Number(url.searchParams.get('number')) || 0);
