import type { APIRoute } from 'astro';
import { situationTable } from '../../server/identity';

export const GET: APIRoute = ({ url }) => situationTable(url);
