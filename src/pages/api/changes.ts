import type { APIRoute } from 'astro';
import { changesOf } from '../../server/workplace';

export const GET: APIRoute = ({ url }) => changesOf(Number(url.searchParams.get('version')) || undefined);
