import type { APIRoute } from 'astro';
import { planAt } from '../../server/history';

export const GET: APIRoute = ({ url }) => planAt(url.searchParams.get('at'));
