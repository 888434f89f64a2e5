import type { APIRoute } from 'astro';
import { messages } from '../../server/messages';

export const GET: APIRoute = ({ url }) => messages(url);
