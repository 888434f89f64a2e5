import type { APIRoute } from 'astro';
import { counts } from '../../server/arrival-views';

export const GET: APIRoute = ({ url }) => counts(url);
