import type { APIRoute } from 'astro';
import { person } from '../../server/identity';

export const GET: APIRoute = ({ url }) => person(url);
