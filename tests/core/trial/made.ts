/** A small trial, and messages of it. */
import type { Mark, TrialMessage, TrialRun } from '../../../src/core/trial/run';
import { blankStep, type Expected, type TrialScript, type TrialStep } from '../../../src/core/trial/script';
import { create, event, planWith, property } from '../../build/plan';

export const T0 = Date.UTC(2026, 2, 1, 9);

export const plan = planWith([
  property('share', { type: 'integer' }),
  property('request', {}),
  create('source', 'web', { name: 'Web', kind: 'web' }),
  create('source', 'desk', { name: 'Desk', kind: 'server' }),
  event('viewed', { name: 'Crate Viewed', formerNames: ['crate_viewed'] }),
  event('asked', { name: 'Crate Asked', properties: [{ propertyId: 'request', required: true }] }),
  event('given', { name: 'Crate Given', properties: [{ propertyId: 'request', required: true }] }),
  event('read', { name: 'Guide Read', properties: [{ propertyId: 'share', required: true }] }),
]);

export const expects = (name: string, more: Partial<Expected> = {}): Expected => ({
  event: name,
  min: 1,
  max: 1,
  sources: [],
  values: [],
  ids: [],
  ...more,
});

export const step = (id: string, more: Partial<TrialStep>): TrialStep => ({ ...blankStep(id), does: id, waitMs: 10_000, ...more });

export const script: TrialScript = {
  name: 'Crates',
  about: '',
  flow: '',
  owner: '',
  retired: false,
  steps: [
    step('look', { expects: [expects('Crate Viewed')] }),
    step('ask', {
      inOrder: true,
      expects: [
        expects('Crate Given', { values: [{ property: 'request', wanted: { is: 'like', pattern: '^r-' }, remember: 'request' }] }),
        expects('Crate Asked', { values: [{ property: 'request', wanted: { is: 'remembered', as: 'request' } }], ids: ['member'] }),
      ],
    }),
    step('fail', { forbids: ['Crate Asked', 'Crate Given'] }),
    step('read', {
      inOrder: true,
      expects: ['25', '50', '75'].map((value) =>
        expects('Guide Read', { values: [{ property: 'share', wanted: { is: 'exactly', value } }] }),
      ),
    }),
    step('read again', { forbids: ['Guide Read'] }),
  ],
};

let next = 0;
/** A message that arrived so many seconds after the run began. */
export const message = (name: string, second: number, more: Partial<TrialMessage> = {}): TrialMessage => ({
  seq: ++next,
  messageId: `m${next}`,
  kind: 'event',
  name,
  sourceId: 'web',
  release: '8.1',
  occurredAt: T0 + second * 1000,
  receivedAt: T0 + second * 1000,
  ids: { visitor: 'v-1', member: 'm-1' },
  properties: {},
  findings: [],
  ...more,
});

export const mark = (of: string, second: number, skipped?: string): Mark => ({
  step: of,
  at: T0 + second * 1000,
  ...(skipped === undefined ? {} : { skipped }),
});

/** Steps a minute apart, and an end. */
export const run = (more: Partial<TrialRun> = {}): TrialRun => ({
  script,
  marks: [...script.steps.map((s, i) => mark(s.id, i * 60)), mark('end', 600)],
  ...more,
});

/** What arrives when everything is right. */
export const right = (): TrialMessage[] => [
  message('Crate Viewed', 2),
  message('Crate Given', 62, { sourceId: 'desk', release: '2', properties: { request: 'r-7' } }),
  message('Crate Asked', 63, { properties: { request: 'r-7' } }),
  ...[25, 50, 75].map((share, i) => message('Guide Read', 182 + i, { properties: { share } })),
];

export const NOW = T0 + 3_600_000;
