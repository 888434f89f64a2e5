import type { APIRoute } from 'astro';
import { answerApi } from '../../server/endpoints';

export const ALL: APIRoute = ({ request }) => answerApi(request);
