import type { APIRoute } from 'astro';
import { retests } from '../../server/findings';

export const GET: APIRoute = ({ url }) => retests(url);
