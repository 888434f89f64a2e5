import type { APIRoute } from 'astro';
import { people } from '../../server/people';

export const GET: APIRoute = () => people();
