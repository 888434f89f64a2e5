/** `GET /api/models`: Download models of the events in a language */
import { z } from 'zod';
import { endpoint } from './endpoint';

export const LANGUAGES = ['kotlin', 'swift', 'python', 'java', 'go', 'csharp'] as const;

export const models = endpoint({
  method: 'GET',
  path: '/api/models',
  title: 'Download models of the events in a language',
  role: 'reader',
  answeredBy: 'analysis',
  query: z.object({
    language: z.enum(LANGUAGES),
    version: z.string().optional().describe('A number, `draft`, or nothing for the newest version.'),
    source: z.string().optional().describe('Of this source alone.'),
  }),
  answer: z.string(),
  content: 'file',
  errors: { 404: 'There is no such version or source.' },
});
