import type { APIRoute } from 'astro';
import { health } from '../../server/identity';

export const GET: APIRoute = ({ url }) => health(url);
