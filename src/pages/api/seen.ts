import type { APIRoute } from 'astro';
import { seen } from '../../server/arrived';

export const GET: APIRoute = ({ url }) => seen(url);
