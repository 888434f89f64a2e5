import type { APIRoute } from 'astro';
import { arrived } from '../../server/arrived';

export const GET: APIRoute = ({ url }) => arrived(url);
