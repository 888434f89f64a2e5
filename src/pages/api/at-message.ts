import type { APIRoute } from 'astro';
import { atMessage } from '../../server/arrival-views';

export const GET: APIRoute = ({ url }) => atMessage(url);
