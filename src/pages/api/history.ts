import type { APIRoute } from 'astro';
import { history } from '../../server/history';

export const GET: APIRoute = ({ url }) => history(Number(url.searchParams.get('before')) || undefined);
