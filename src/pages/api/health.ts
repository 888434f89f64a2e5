import type { APIRoute } from 'astro';
import { health } from '../../server/health';

export const GET: APIRoute = () => health();
