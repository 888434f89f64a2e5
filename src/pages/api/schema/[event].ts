import type { APIRoute } from 'astro';
import { schemaFile } from '../../../server/exports';

export const GET: APIRoute = ({ params }) => schemaFile(params['event'] ?? '');
