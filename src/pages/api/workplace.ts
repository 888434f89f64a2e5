import type { APIRoute } from 'astro';
import { workplace } from '../../server/workplace';

export const GET: APIRoute = ({ url }) => {
  const after = url.searchParams.get('after');
  return workplace(after === null ? undefined : Number(after) || 0);
};
