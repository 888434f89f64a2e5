import type { APIRoute } from 'astro';
import { history } from '../../server/workplace';

export const GET: APIRoute = () => history();
