/** Hand-off: how far everything is, and what was handed over. */
import { z } from 'zod';
import type { ProgressPair } from '../hand-off/progress';
import { answer, author, done, endpoint } from './endpoint';

export const progress = endpoint({
  method: 'GET',
  path: '/api/progress',
  title: 'How far each event is on each source',
  role: 'reader',
  answeredBy: 'analysis',
  answer: answer<readonly ProgressPair[]>('Every planned pair of event and source, in the order of the plan.'),
});

const address = z
  .string()
  .trim()
  .max(2000)
  .refine((s) => s === '' || /^https?:\/\/\S+$/.test(s), { error: 'An address begins with https:// or http://.' });

export const handOver = endpoint({
  method: 'POST',
  path: '/api/hand-overs',
  title: 'Hand an event, all of a source, or changes over to whoever builds them: by a ticket of one’s own, or through the tracker',
  role: 'editor',
  body: z.object({
    eventId: z.string().min(1).max(200).optional().describe('All that is ready at the source when left out.'),
    sourceId: z.string().min(1).max(200),
    from: z
      .number()
      .int()
      .positive()
      .optional()
      .describe('A version: then it is a ticket for what to change to come from it to the newest one.'),
    address: address.default('').describe('Of a ticket that is there already.'),
    send: z.boolean().default(false).describe('Send the ticket to the tracker, which answers with its address.'),
    author,
  }),
  answer: z.object({ address: z.string(), events: z.number() }),
  errors: {
    404: 'The plan has no such event or source.',
    409: 'Something is still missing that engineers need, or no tracker is named.',
    502: 'The tracker did not take it; the detail says what it answered.',
  },
});

export const tracker = endpoint({
  method: 'GET',
  path: '/api/tracker',
  title: 'Where tickets are sent',
  role: 'editor',
  answer: z.object({ address: z.string(), secret: z.string() }).nullable(),
});

export const setTracker = endpoint({
  method: 'POST',
  path: '/api/tracker',
  title: 'Say where tickets are sent; nowhere where the address is empty',
  role: 'publisher',
  body: z.object({ address, author }),
  answer: done,
  errors: { 400: 'The address cannot be sent to.' },
});

export const handOffDocument = endpoint({
  method: 'GET',
  path: '/api/hand-off-document',
  title: 'Download what to build: for a source, or what changed between two versions',
  role: 'reader',
  query: z.object({
    source: z.string().optional().describe('The source; every source when left out, for changes alone.'),
    from: z.string().optional().describe('A version: then it says what to change to come from it to the version asked for.'),
    version: z.string().optional().describe('A number, `draft`, or nothing for the newest version.'),
    format: z.enum(['md', 'html']).default('md'),
  }),
  answer: z.string(),
  content: 'file',
  errors: { 404: 'There is no such version or source.' },
});
