import type { APIRoute } from 'astro';
import { callerOf } from '../../server/callers';
import { intakeOptions, knownOf } from '../../server/intake';

export const POST: APIRoute = ({ request }) => knownOf(request, callerOf(request));
export const OPTIONS: APIRoute = () => intakeOptions();
