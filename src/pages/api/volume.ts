import type { APIRoute } from 'astro';
import { volume } from '../../server/arrival-views';

export const GET: APIRoute = ({ url }) => volume(url);
