/** `POST /api/what-if`: Persons and figures under other identity rules */
import { z } from 'zod';
import type { WhatIf } from '../identity/what-if';
import { answer, endpoint } from './endpoint';

export const whatIf = endpoint({
  method: 'POST',
  path: '/api/what-if',
  title: 'Persons and figures under other identity rules',
  role: 'reader',
  answeredBy: 'analysis',
  body: z.object({ identity: z.unknown().describe('Identity rules, as in the settings of a plan.') }),
  answer: answer<WhatIf>('Before and after.'),
  content: 'application/x-ndjson',
  lens: ['traffic'],
});
