/** Trials: runs are begun, carried on, ended, and looked at. */
import { z } from 'zod';
import type { KeptTrialRun, TrialRunView, TrialResult } from '../trial/trial-run';
import { answer, author, endpoint } from './endpoint';

const runId = z.uuid();
const tester = z.discriminatedUnion('by', [
  z.object({
    by: z.literal('identifier'),
    value: z.string().trim().min(1, { error: 'Say who you are: a user ID, device ID or anonymous ID that your messages carry.' }).max(1000),
  }),
  z.object({
    by: z.literal('property'),
    name: z.string().trim().min(1, { error: 'Name the property that only your messages carry.' }).max(500),
    value: z.string().min(1, { error: 'Say which value only your messages carry.' }).max(1000),
  }),
  z.object({
    by: z.literal('address'),
    value: z
      .string()
      .trim()
      .regex(/^[0-9a-fA-F.:]{0,45}$/, {
        error: 'An address is written as 192.0.2.7 or 2001:db8::7; nothing means the one that this is asked from.',
      })
      .default(''),
  }),
]);

export const trialRuns = endpoint({
  method: 'GET',
  path: '/api/trial-runs',
  title: 'Runs of trials, newest first',
  role: 'reader',
  query: z.object({ trial: z.string().max(200).optional() }),
  answer: answer<readonly KeptTrialRun[]>('At most a hundred.'),
});

export const beginTrial = endpoint({
  method: 'POST',
  path: '/api/trial-runs',
  title: 'Begin a run of a trial',
  role: 'editor',
  body: z.object({
    trialId: z.string().min(1).max(200),
    rules: z.enum(['published', 'draft']).default('published'),
    tester,
    environment: z.string().trim().min(1).max(100),
    author,
  }),
  answer: z.object({ id: runId }),
  errors: {
    404: 'The plan has no such trial.',
    409: 'Nothing is published, or somebody runs a trial as this tester already.',
  },
});

export const markTrial = endpoint({
  method: 'POST',
  path: '/api/trial-marks',
  title: 'Say that a step of a run begins now, that it is skipped, or that the run is over',
  role: 'editor',
  body: z.object({
    id: runId,
    step: z.string().min(1).max(100).describe('ID of the step, `baseline`, or `end`.'),
    skipped: z.string().trim().min(1, { error: 'Say why the step is skipped.' }).max(1000).optional(),
  }),
  answer: answer<TrialRunView>('The run as it is now.'),
  errors: { 404: 'There is no such run or step.', 409: 'The run has ended.' },
});

/** Asked by POST, since what it answers changes with time alone. */
export const trialRun = endpoint({
  method: 'POST',
  path: '/api/trial-run',
  title: 'A run as it is now: expected beside received',
  role: 'reader',
  answeredBy: 'analysis',
  body: z.object({ id: runId }),
  answer: answer<TrialRunView>('The run with its verdict.'),
  errors: { 404: 'There is no such run.' },
});

export const EVIDENCE_FORMATS = ['md', 'junit', 'ndjson', 'json'] as const;

export const trialEvidence = endpoint({
  method: 'GET',
  path: '/api/trial-evidence',
  title: 'Download the evidence of a run that has ended',
  role: 'reader',
  query: z.object({ id: runId, format: z.enum(EVIDENCE_FORMATS).default('md') }),
  answer: z.string(),
  content: 'file',
  errors: { 404: 'There is no such run.', 409: 'The run has not ended.' },
});

export const verified = endpoint({
  method: 'GET',
  path: '/api/verified',
  title: 'What trials verified: event, source and release',
  role: 'reader',
  answer: answer<readonly TrialResult[]>('The newest proof of each that no later trial of the same release took back, newest first.'),
});
