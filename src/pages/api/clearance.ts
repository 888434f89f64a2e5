import type { APIRoute } from 'astro';
import { clearances } from '../../server/clearance';

export const GET: APIRoute = ({ url }) => clearances(url);
