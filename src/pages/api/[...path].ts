import type { APIRoute } from 'astro';
import { noteCaller } from '../../server/callers';
import { answerApi } from '../../server/endpoints';

export const ALL: APIRoute = ({ request, clientAddress }) => answerApi(noteCaller(request, clientAddress));
