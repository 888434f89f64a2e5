/** `POST /api/figure`: The whole answer of a formula, which need not be saved */
import { z } from 'zod';
import { COUNTING_BASES } from '../identity/counting-basis';
import type { FigureAnswer } from '../questions/compute-figure';
import { answer, endpoint } from './endpoint';

export const figure = endpoint({
  method: 'POST',
  path: '/api/figure',
  title: 'The whole answer of a formula, which need not be saved',
  role: 'reader',
  answeredBy: 'analysis',
  body: z.object({ formula: z.unknown(), basis: z.enum(COUNTING_BASES).optional() }),
  answer: answer<FigureAnswer>('The figure, its counts and its groups.'),
  content: 'application/x-ndjson',
  lens: ['traffic'],
  errors: { 409: 'The formula is incomplete, or asks for what is not kept.' },
});
