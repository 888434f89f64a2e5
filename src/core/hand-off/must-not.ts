/** When an event must not fire, and how its building is accepted: the same in tickets, documents and trials. */
import { entries, type Plan, type PlanEvent, type Source } from '../plan/plan';
import { eventNamed } from '../plan/plan-index';
import { refText } from '../plan/property-path';

/** From which sources an event comes, to be said behind its name; empty where the plan names none. */
export const fromText = (plan: Plan, eventName: string): string => {
  const sources = (eventNamed(plan, eventName)?.[1].sources ?? [])
    .filter((s) => s.build !== 'retired')
    .flatMap((s) => plan.source[s.sourceId]?.name ?? []);
  return sources.length === 0 ? '' : ` from ${sources.join(' or ')}`;
};

/** What must not cause it, a sentence each. */
export const mustNot = (plan: Plan, event: PlanEvent): string[] => {
  const out: string[] = [];
  const server =
    event.counterpart && entries(plan, 'event').some(([, e]) => e.name === event.counterpart!.eventName)
      ? event.counterpart.eventName
      : undefined;
  if (event.triggerKind === 'completed') out.push('The action is begun and cancelled, or refused: nothing is sent before it is completed.');
  if (server !== undefined) out.push(`\`${server}\` did not come: without the confirmation of the server nothing is completed.`);
  if (event.triggerKind === 'attempted') out.push('The page is only looked at: nothing was pressed or sent.');
  if (event.triggerKind === 'viewed') out.push('The threshold in the trigger is not reached.');
  if (event.series) out.push('A step of the series was reached before on the same page: going back and forth adds none.');
  if (event.oncePer !== '') out.push(`It came once already in the same ${event.oncePer}.`);
  if (event.scope !== '') out.push(`The page or screen is not under \`${event.scope}\`.`);
  out.push('A page that looks like it is opened, reloaded, or gone back to.');
  return out;
};

/** How it is accepted, step by step. */
export const acceptedWhen = (plan: Plan, event: PlanEvent, source: Source | undefined): string[] => [
  event.series
    ? `Going through to the end causes one \`${event.name}\` for each of ${event.series.values.join(', ')} in \`${refText(event.series.property)}\`, in this order.`
    : `The action, done once, causes exactly one \`${event.name}\`.`,
  ...(event.counterpart
    ? [
        `\`${event.counterpart.eventName}\` comes${fromText(plan, event.counterpart.eventName)} with the same \`${refText(event.counterpart.keyProperty)}\` within ${event.counterpart.windowMs / 1000} s.`,
      ]
    : []),
  `None of what must not cause it does.`,
  `The message arrives without a finding${source ? ` from ${source.name}` : ''}, with the identifiers of its situation.`,
];

/** What can be had of an event by definitions over what is recorded, and what cannot: for where nobody can build it now. */
export const withoutBuilding = (plan: Plan, event: PlanEvent): { readonly can: readonly string[]; readonly cannot: readonly string[] } => {
  const sources = event.sources.map((s) => plan.source[s.sourceId]).filter((s) => s !== undefined);
  const clients = sources.filter((s) => s.kind !== 'server');
  const can: string[] = [];
  if (clients.length > 0 && (event.triggerKind === 'viewed' || event.scope !== ''))
    can.push(
      `A definition over views of pages${event.scope === '' ? '' : ` under \`${event.scope}\``} counts how often it was opened, over all that was recorded.`,
    );
  if (clients.some((s) => s.kind === 'web' || s.kind === 'kiosk'))
    can.push('A definition over raw interactions counts how often its button or link was pressed, where the sender records them.');
  const automatic = [...new Set(sources.flatMap((s) => s.automaticEvents ?? []))];
  if (automatic.length > 0) can.push(`A definition over the library’s automatic events: ${automatic.map((n) => `\`${n}\``).join(', ')}.`);
  const cannot: string[] = [];
  if (event.triggerKind === 'completed')
    cannot.push('That it was completed: a press is an attempt, and a page that opens does not show what was done on it.');
  if (event.triggerKind === 'viewed' || event.triggerKind === 'milestone')
    cannot.push('The threshold: how long or how far something was in view is not recorded.');
  const properties = event.properties.length + event.sharedSets.length;
  if (properties > 0) cannot.push('Its properties: only the page, the text and the place of what was pressed are recorded.');
  if (clients.length === 0) cannot.push('Anything: only servers send it, and they record nothing else.');
  return { can, cannot };
};
