/** A trial drafted from the plan: each event of a flow once, and what must not come. */
import { entries, isLive, propertiesOf, type Id, type Plan, type PlanEvent } from '../plan/plan';
import { refOfProperty, sameRef } from '../plan/property-path';
import { userKindOf } from '../plan/user-kind';
import { blankStep, USUAL_WAIT_MS, type Expected, type TrialScript, type TrialStep, type WantedValue } from './script';

const once = (event: PlanEvent, values: readonly WantedValue[] = []): Expected => ({
  event: event.name,
  min: 1,
  max: 1,
  sources: [],
  values,
  ids: [],
});

/** The key of client and server is remembered by the first of both and asked of the other. */
const keyValues = (plan: Plan, event: PlanEvent): WantedValue[] => {
  const { counterpart } = event;
  if (!counterpart || !propertiesOf(plan, event).some((p) => sameRef(refOfProperty(p.property), counterpart.keyProperty))) return [];
  return [{ property: counterpart.keyProperty, wanted: { is: 'any' }, remember: 'the key of both' }];
};

const isClient = (plan: Plan, e: PlanEvent): boolean =>
  e.sources.some((s) => plan.source[s.sourceId] && plan.source[s.sourceId]!.kind !== 'server');

const trimmed = (text: string): string => text.trim().replace(/[.;]$/, '');

const stepsFor = (plan: Plan, event: PlanEvent, newId: () => string): TrialStep[] => {
  const step = (does: string, fields: Partial<TrialStep>): TrialStep => ({ ...blankStep(newId()), does, ...fields });
  const trigger = trimmed(event.trigger) || event.name;
  const server = entries(plan, 'event').find(([, e]) => e.name === event.counterpart?.eventName)?.[1];
  const out: TrialStep[] = [];
  if (event.series && event.series.values.length > 0) {
    const { property, values } = event.series;
    out.push(
      step(`Go through to the end: ${trigger}.`, {
        inOrder: true,
        waitMs: Math.max(USUAL_WAIT_MS, 60_000),
        expects: values.map((value) => once(event, [{ property, wanted: { is: 'exactly', value } }])),
      }),
      step('Go back to the beginning and to the end again, on the same page.', { forbids: [event.name] }),
    );
  } else {
    out.push(
      step(`Do it once: ${trigger}.`, {
        expects: [once(event, keyValues(plan, event)), ...(server ? [once(server, serverKey(plan, event, server))] : [])],
        // Where a counterpart has to wait for a server, so does the step.
        waitMs: Math.max(USUAL_WAIT_MS, Math.min(event.counterpart?.windowMs ?? 0, 300_000)),
      }),
    );
    if (event.triggerKind === 'completed' && isClient(plan, event))
      out.push(
        step('Begin it and let it fail: cancel, or let it be refused.', { forbids: [event.name, ...(server ? [server.name] : [])] }),
      );
    if (event.triggerKind === 'viewed') out.push(step('Open it, and leave before the threshold is reached.', { forbids: [event.name] }));
  }
  out.push(step(`Open a page that looks like it, and do nothing there.`, { forbids: [event.name] }));
  if (event.scope !== '') out.push(step(`Do the same on a page that is not under ${event.scope}.`, { forbids: [event.name] }));
  return out;
};

const serverKey = (plan: Plan, client: PlanEvent, server: PlanEvent): WantedValue[] => {
  const key = client.counterpart!.keyProperty;
  const carries = (e: PlanEvent): boolean => propertiesOf(plan, e).some((p) => sameRef(refOfProperty(p.property), key));
  return carries(client) && carries(server) ? [{ property: key, wanted: { is: 'remembered', as: 'the key of both' } }] : [];
};

/** A trial of one event, or of a flow: what is to be done, in the order of the plan, with the negative steps.
 *  Shape: an event that is confirmed by another is tried together with it; sign-out and in as another closes a flow on a source that signs people in.
 *  `newId` gives the IDs of the steps.
 */
export const draftTrial = (plan: Plan, what: { readonly eventId: Id } | { readonly flow: string }, newId: () => string): TrialScript => {
  const live = entries(plan, 'event')
    .filter(([, e]) => isLive(e) && e.name !== '')
    .sort(([, a], [, b]) => a.order - b.order);
  const chosen = 'eventId' in what ? live.filter(([id]) => id === what.eventId) : live.filter(([, e]) => e.flow === what.flow);
  const confirming = new Set(chosen.map(([, e]) => e.counterpart?.eventName).filter(Boolean));
  const steps = chosen.filter(([, e]) => chosen.length === 1 || !confirming.has(e.name)).flatMap(([, e]) => stepsFor(plan, e, newId));
  const user = userKindOf(plan);
  const client = chosen.find(
    ([, e]) => e.sources.some((s) => plan.source[s.sourceId]?.idKinds.afterSignIn.includes(user)) && isClient(plan, e),
  )?.[1];
  if (client)
    steps.push({
      ...blankStep(newId()),
      does: `Sign out, sign in as somebody else, and do it once more: ${trimmed(client.trigger) || client.name}.`,
      expects: [
        {
          ...once(client, client.series ? [] : keyValues(plan, client)),
          max: client.series ? client.series.values.length : 1,
          ids: [user],
        },
      ],
      waitMs: Math.max(USUAL_WAIT_MS, client.series ? 60_000 : 0),
    });
  const event = 'eventId' in what ? plan.event[what.eventId] : undefined;
  return {
    name: event ? event.name : 'flow' in what ? what.flow : '',
    about: event ? event.description : `Every event of ${'flow' in what ? what.flow : ''} once, and what must not come.`,
    flow: event ? event.flow : 'flow' in what ? what.flow : '',
    steps,
    owner: event?.owner ?? '',
    retired: false,
  };
};
