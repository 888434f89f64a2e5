import type { APIRoute } from 'astro';
import { intake, intakeOptions } from '../server/intake';

export const POST: APIRoute = ({ request }) => intake(request);
export const OPTIONS: APIRoute = () => intakeOptions();
