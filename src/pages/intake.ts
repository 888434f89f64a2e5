import type { APIRoute } from 'astro';
import { intake, intakeOptions } from '../server/intake';
import '../server/intake-direct';

export const POST: APIRoute = ({ request }) => intake(request);
export const OPTIONS: APIRoute = () => intakeOptions();
