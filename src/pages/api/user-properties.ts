import type { APIRoute } from 'astro';
import { userProperties } from '../../server/arrival-views';

export const GET: APIRoute = ({ url }) => userProperties(url);
