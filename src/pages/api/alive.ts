import type { APIRoute } from 'astro';
import { alive } from '../../server/health';

export const GET: APIRoute = () => alive();
