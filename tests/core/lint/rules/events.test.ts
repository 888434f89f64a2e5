import { attemptNamedAsOutcome } from '../../../../src/core/lint/rules/attempt-named-as-outcome';
import { conversionTooGeneral } from '../../../../src/core/lint/rules/conversion-too-general';
import { descriptionMissing } from '../../../../src/core/lint/rules/description-missing';
import { eventForNoQuestion } from '../../../../src/core/lint/rules/event-for-no-question';
import { flowMissing } from '../../../../src/core/lint/rules/flow-missing';
import { noServerCounterpart } from '../../../../src/core/lint/rules/no-server-counterpart';
import { ownerMissing } from '../../../../src/core/lint/rules/owner-missing';
import { pageViewAsCompleted } from '../../../../src/core/lint/rules/page-view-as-completed';
import { sourceMissing } from '../../../../src/core/lint/rules/source-missing';
import { triggerNotObservable } from '../../../../src/core/lint/rules/trigger-not-observable';
import { viewWithoutThreshold } from '../../../../src/core/lint/rules/view-without-threshold';
import type { EventSource } from '../../../../src/core/plan/plan';
import { create, event, planWith, question } from '../../../build/plan';
import { testRule } from '../test-rule';

const source = (id: string, kind: 'web' | 'server') => create('source', id, { name: id, kind });
const by = (...ids: string[]): EventSource[] => ids.map((sourceId) => ({ sourceId, required: true, build: 'proposed' }));
const asks = (name: string) =>
  question('q', { formula: { type: 'active persons', events: [{ eventName: name, where: [] }], period: 'week' } });

testRule(triggerNotObservable, {
  valid: [{ name: 'what a program sees', plan: planWith([event('e', { trigger: 'The result list is shown.' })]) }],
  invalid: [
    {
      name: 'what somebody means',
      plan: planWith([event('e', { name: 'Tool Liked', trigger: 'The visitor is interested in a tool.' })]),
      path: ['event', 'e', 'trigger'],
      params: { name: 'Tool Liked', word: 'interested' },
      says: 'The trigger of `Tool Liked` speaks of “interested”, which no program can observe.',
      fixes: false,
    },
  ],
});

testRule(attemptNamedAsOutcome, {
  valid: [
    { name: 'an attempt that says so', plan: planWith([event('e', { name: 'Reservation Requested', triggerKind: 'attempted' })]) },
    { name: 'an outcome that is one', plan: planWith([event('e', { name: 'Order Completed', triggerKind: 'completed' })]) },
  ],
  invalid: [
    {
      name: 'a press under the name of a success',
      plan: planWith([event('e', { name: 'Order Completed', triggerKind: 'attempted' })]),
      path: ['event', 'e', 'triggerKind'],
      params: { name: 'Order Completed', action: 'completed' },
      says: '`Order Completed` is marked as an attempt, but “completed” names an outcome.',
      fixes: true,
    },
  ],
});

testRule(pageViewAsCompleted, {
  valid: [
    {
      name: 'a denial is not the trigger',
      plan: planWith([event('e', { trigger: 'The session began; opening the page is not enough.' })]),
    },
    { name: 'a view that says so', plan: planWith([event('e', { trigger: 'The page was shown for 5 s.', triggerKind: 'viewed' })]) },
  ],
  invalid: [
    {
      name: 'the account page is opened',
      plan: planWith([event('e', { name: 'Signed In', trigger: 'The account page is opened.' })]),
      path: ['event', 'e', 'trigger'],
      params: { name: 'Signed In', place: 'page', seen: 'opened' },
      says: '`Signed In` claims a completed action, but its trigger speaks of a page and “opened”: that is a view.',
      fixes: true,
    },
  ],
});

testRule(viewWithoutThreshold, {
  valid: [
    { name: 'a time', plan: planWith([event('e', { triggerKind: 'viewed', trigger: 'In view for at least five seconds.' })]) },
    { name: 'a share', plan: planWith([event('e', { triggerKind: 'viewed', trigger: '50 % of the picture was in view.' })]) },
    { name: 'none written, which has a finding of its own', plan: planWith([event('e', { triggerKind: 'viewed', trigger: '' })]) },
  ],
  invalid: [
    {
      name: 'a glance',
      plan: planWith([event('e', { name: 'Tool Viewed', triggerKind: 'viewed', trigger: 'The tool came into view.' })]),
      path: ['event', 'e', 'trigger'],
      params: { name: 'Tool Viewed' },
      says: '`Tool Viewed` is a view, but its trigger has no threshold: for how long, or how much of it?',
      fixes: false,
    },
  ],
});

testRule(sourceMissing, {
  valid: [{ name: 'it has one', plan: planWith([source('web', 'web'), event('e', { sources: by('web') })]) }],
  invalid: [
    {
      name: 'its flow tells it',
      plan: planWith([
        source('web', 'web'),
        event('a', { flow: 'Join', sources: by('web') }),
        event('b', { name: 'Loan Started', flow: 'Join' }),
      ]),
      path: ['event', 'b', 'sources'],
      params: { name: 'Loan Started', proposal: ['web'] },
      says: 'Nothing sends `Loan Started`: it has no source.',
      fixes: true,
    },
    {
      name: 'nothing tells it',
      plan: planWith([event('e', { name: 'Loan Started' })]),
      path: ['event', 'e', 'sources'],
      params: { name: 'Loan Started', proposal: [] },
      says: 'Nothing sends `Loan Started`: it has no source.',
      fixes: false,
    },
  ],
});

testRule(ownerMissing, {
  valid: [{ name: 'it has one', plan: planWith([event('e', { owner: 'Ines' })]) }],
  invalid: [
    {
      name: 'most of its flow belongs to one',
      plan: planWith([
        event('a', { flow: 'Join', owner: 'Ines' }),
        event('b', { flow: 'Join', owner: 'Ines' }),
        event('c', { flow: 'Join', owner: 'Ravi' }),
        event('d', { name: 'Signed In', flow: 'Join' }),
      ]),
      path: ['event', 'd', 'owner'],
      params: { name: 'Signed In', proposal: 'Ines' },
      says: '`Signed In` has no owner.',
      fixes: true,
    },
  ],
});

testRule(flowMissing, {
  valid: [{ name: 'it has one', plan: planWith([event('e', { flow: 'Join' })]) }],
  invalid: [
    {
      name: 'its object tells it',
      plan: planWith([event('a', { object: 'loan', flow: 'Borrow' }), event('b', { name: 'Loan Returned', object: 'loan' })]),
      path: ['event', 'b', 'flow'],
      params: { name: 'Loan Returned', proposal: 'Borrow' },
      says: '`Loan Returned` belongs to no flow.',
      fixes: true,
    },
  ],
});

testRule(conversionTooGeneral, {
  valid: [{ name: 'a narrow outcome', plan: planWith([event('e', { name: 'Membership Activated', conversion: true })]) }],
  invalid: [
    {
      name: 'every visit fires it',
      plan: planWith([event('e', { name: 'Session Started', conversion: true })]),
      path: ['event', 'e', 'conversion'],
      params: { name: 'Session Started', because: 'every visit fires it' },
      says: '`Session Started` is marked as a conversion, but every visit fires it.',
      fixes: true,
    },
    {
      name: 'a view',
      plan: planWith([event('e', { name: 'Tool Viewed', triggerKind: 'viewed', conversion: true })]),
      path: ['event', 'e', 'conversion'],
      params: { name: 'Tool Viewed', because: 'it is a view' },
      says: '`Tool Viewed` is marked as a conversion, but it is a view.',
      fixes: true,
    },
  ],
});

testRule(eventForNoQuestion, {
  valid: [
    { name: 'a question needs it', plan: planWith([event('e', { name: 'Loan Started' }), asks('Loan Started')]) },
    { name: 'it is kept with a reason', plan: planWith([event('e', { keepReason: 'The auditor asks.' })]) },
    {
      name: 'it confirms one that is needed',
      plan: planWith([
        event('a', { name: 'Loan Requested', counterpart: { eventName: 'Loan Confirmed', keyProperty: 'loan_id', windowMs: 1000 } }),
        event('b', { name: 'Loan Confirmed' }),
        asks('Loan Requested'),
      ]),
    },
    {
      name: 'it is retired on all its sources',
      plan: planWith([event('e', { sources: [{ sourceId: 'web', required: true, build: 'retired' }] })]),
    },
  ],
  invalid: [
    {
      name: 'nobody asks',
      plan: planWith([event('e', { name: 'Loan Started' })]),
      path: ['event', 'e', 'keepReason'],
      params: { name: 'Loan Started' },
      says: '`Loan Started` is without a question. Ask one, retire it, or write down why it is kept.',
      fixes: false,
    },
  ],
});

testRule(noServerCounterpart, {
  valid: [
    { name: 'a server sends it itself', plan: planWith([source('s', 'server'), event('e', { conversion: true, sources: by('s') })]) },
    { name: 'it does not matter', plan: planWith([source('w', 'web'), event('e', { sources: by('w') })]) },
  ],
  invalid: [
    {
      name: 'only a client says so',
      plan: planWith([
        source('w', 'web'),
        source('s', 'server'),
        event('a', { name: 'Loan Requested', object: 'loan', conversion: true, sources: by('w') }),
        event('b', { name: 'Loan Confirmed', object: 'loan', sources: by('s') }),
      ]),
      path: ['event', 'a', 'counterpart'],
      params: { name: 'Loan Requested', nearest: 'Loan Confirmed' },
      says: '`Loan Requested` matters and only clients send it; no server event confirms it. `Loan Confirmed` may be the one.',
      fixes: false,
    },
  ],
});

testRule(descriptionMissing, {
  valid: [{ name: 'it has one', plan: planWith([event('e', { description: 'A loan began.' })]) }],
  invalid: [
    {
      name: 'an event without',
      plan: planWith([event('e', { name: 'Loan Started' })]),
      path: ['event', 'e', 'description'],
      params: { kind: 'event', name: 'Loan Started' },
      says: '`Loan Started` has no description.',
      fixes: false,
    },
    {
      name: 'a user property without',
      plan: planWith([create('userProperty', 'u', { name: 'home_branch' })]),
      path: ['userProperty', 'u', 'description'],
      params: { kind: 'userProperty', name: 'home_branch' },
      says: '`home_branch` has no description.',
      fixes: false,
    },
  ],
});
