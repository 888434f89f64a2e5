import type { APIRoute } from 'astro';
import { findingMessages } from '../../server/findings';

export const GET: APIRoute = ({ url }) => findingMessages(url);
