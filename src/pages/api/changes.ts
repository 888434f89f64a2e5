import type { APIRoute } from 'astro';
import { changesOf } from '../../server/history';

export const GET: APIRoute = ({ url }) => changesOf(Number(url.searchParams.get('version')) || undefined);
