import type { APIRoute } from 'astro';
import { intake, intakeOptions } from '../server/intake';

export const POST: APIRoute = ({ request, clientAddress }) => intake(request, clientAddress);
export const OPTIONS: APIRoute = () => intakeOptions();
