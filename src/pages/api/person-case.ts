import type { APIRoute } from 'astro';
import { personCase } from '../../server/identity';

export const GET: APIRoute = ({ url }) => personCase(url);
