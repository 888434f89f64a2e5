import type { APIRoute } from 'astro';
import { planFile } from '../../server/exports';

export const GET: APIRoute = ({ url }) => planFile(url.searchParams.get('version'), 'json');
