import type { APIRoute } from 'astro';
import { callerOf } from '../server/callers';
import { intake, intakeOptions } from '../server/intake';

export const POST: APIRoute = ({ request }) => intake(request, callerOf(request));
export const OPTIONS: APIRoute = () => intakeOptions();
