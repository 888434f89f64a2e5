import type { APIRoute } from 'astro';
import { findings } from '../../server/findings';

export const GET: APIRoute = () => findings();
