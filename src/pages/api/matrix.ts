import type { APIRoute } from 'astro';
import { matrix } from '../../server/arrival-views';

export const GET: APIRoute = ({ url }) => matrix(url);
