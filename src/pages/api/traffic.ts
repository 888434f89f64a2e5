import type { APIRoute } from 'astro';
import { traffic } from '../../server/arrived';

export const GET: APIRoute = () => traffic();
