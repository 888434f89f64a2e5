import type { APIRoute } from 'astro';
import { workplace } from '../../server/workplace';

export const GET: APIRoute = () => workplace();
