import type { APIRoute } from 'astro';
import { profile } from '../../server/arrival-views';

export const GET: APIRoute = ({ url }) => profile(url);
