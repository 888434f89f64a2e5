import type { APIRoute } from 'astro';
import { pairs } from '../../server/arrival-views';

export const GET: APIRoute = ({ url }) => pairs(url);
