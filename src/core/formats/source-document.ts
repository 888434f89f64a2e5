/** What to build at a source, and what to change between two versions: one document each, written as Markdown or HTML. */
import { judgeChanges } from '../plan/impact';
import { diffPlans } from '../plan/diff';
import { acceptedWhen, fromText, mustNot, withoutBuilding } from '../hand-off/must-not';
import { situationsOf } from '../identity/situation';
import { entries, isLive, propertiesOf, settingsOf, type Id, type Plan, type PlanEvent, type Source } from '../plan/plan';
import { refOfProperty, refText } from '../plan/property-path';
import { code, heading, list, name, para, table, type Block } from './blocks';
import { constraintText, heldBackBy, sampleMessage } from './ticket';

const eventsOf = (plan: Plan, sourceId: Id): (readonly [Id, PlanEvent])[] =>
  entries(plan, 'event')
    .filter(([, e]) => e.name !== '' && isLive(e) && e.sources.some((s) => s.sourceId === sourceId && s.build !== 'retired'))
    .sort(([i, a], [j, b]) => a.order - b.order || (i < j ? -1 : 1));

const kinds = (list: readonly string[]): string => list.map(name).join(', ') || 'none';

const propertyRows = (plan: Plan, e: PlanEvent): string[][] =>
  propertiesOf(plan, e).map(({ property: p, required, setId }) => [
    name(refText(refOfProperty(p))),
    required ? 'yes' : 'no',
    constraintText(p),
    `${p.description}${setId === undefined ? '' : ` (shared set ${plan.sharedSet[setId]?.name ?? setId})`}`,
    p.samples.slice(0, 3).map(name).join(', '),
  ]);

/** One event at one source, from its trigger to its acceptance. */
export const eventBlocks = (plan: Plan, eventId: Id, source: Source | undefined, level: 1 | 2 | 3): Block[] => {
  const e = plan.event[eventId]!;
  const inner = (level + 1) as 2 | 3 | 4;
  const held = heldBackBy(plan, e);
  const rows = propertyRows(plan, e);
  return [
    heading(level, level === 1 ? `${e.name}${source ? ` on ${source.name}` : ''}` : e.name, `event-${eventId}`),
    ...(held.length > 0 ? [para(`**Held back**: ${held.join(', ')} missing in the plan. Do not build it yet.`)] : []),
    ...(e.description === '' ? [] : [para(e.description)]),
    para(`**Trigger** (${e.triggerKind}). ${e.trigger || 'Not written down yet.'}`),
    ...(e.scope === '' ? [] : [para(`**Only** on pages or screens under ${name(e.scope)}.`)]),
    ...(e.series
      ? [
          para(
            `**Series.** ${name(refText(e.series.property))} goes through ${e.series.values.map(name).join(', ')}, each once on a page view.`,
          ),
        ]
      : []),
    ...(e.counterpart
      ? [
          para(
            `**Confirmed by** ${name(e.counterpart.eventName)}${fromText(plan, e.counterpart.eventName)} with the same ${name(refText(e.counterpart.keyProperty))} within ${e.counterpart.windowMs / 1000} s.`,
          ),
        ]
      : []),
    heading(inner, 'Properties'),
    rows.length === 0 ? para('None.') : table(['name', 'required', 'type', 'meaning', 'samples'], rows),
    heading(inner, 'Must not fire when'),
    list(mustNot(plan, e)),
    heading(inner, 'Sample message'),
    para('Everything in double braces must be replaced; a message that still holds one is reported.'),
    code(JSON.stringify(sampleMessage(plan, e, source), null, 2), 'json'),
    heading(inner, 'Accepted when'),
    list(acceptedWhen(plan, e, source), true),
    ...(e.owner === '' ? [] : [para(`Ask ${e.owner} about it.`)]),
  ];
};

/** Everything to build at a source: order of work, prerequisites, identifiers by situation, each event. */
export const sourceDocument = (plan: Plan, number: number, sourceId: Id): { readonly title: string; readonly blocks: readonly Block[] } => {
  const source = plan.source[sourceId]!;
  const events = eventsOf(plan, sourceId);
  const title = `${settingsOf(plan).name}: what to build at ${source.name}`;
  const flows = [...new Set(events.map(([, e]) => e.flow))];
  const prerequisites = source.prerequisites ?? [];
  const users = entries(plan, 'userProperty').filter(
    ([, u]) => !u.retired && u.name !== '' && (u.sources.length === 0 || u.sources.includes(sourceId)),
  );
  const blocks: Block[] = [
    heading(1, title),
    para(
      `${number > 0 ? `Version ${number} of the tracking plan.` : 'The draft of the tracking plan, not published.'} ${source.name} is a ${source.kind} source in ${source.environment}${source.owner === '' ? '' : `, owned by ${source.owner}`}.`,
    ),
    heading(2, 'Order of work'),
    list(
      [
        ...(prerequisites.some((p) => !p.done) ? ['Put the prerequisites in place.'] : []),
        'Set up the sender with a write key, the release and the environment; carry the identifiers of each situation.',
        ...flows.map(
          (f) =>
            `${f === '' ? 'Events without a flow' : f}: ${events
              .filter(([, e]) => e.flow === f)
              .map(([, e]) => name(e.name))
              .join(', ')}`,
        ),
        ...(users.length > 0 ? ['Set the user properties.'] : []),
        'Run the trial of each flow, and hand in its result.',
      ],
      true,
    ),
    heading(2, 'Prerequisites'),
    prerequisites.length === 0 && source.automaticProperties.length === 0
      ? para('None are written down.')
      : list([
          ...prerequisites.map((p) => {
            const not = p.notInheritedBy.map((id) => plan.event[id]?.name).filter((n) => n !== undefined);
            const inherits = events.filter(([id]) => !p.notInheritedBy.includes(id)).map(([, e]) => name(e.name));
            return `${p.done ? 'Done: ' : ''}${p.what} (${p.kind})${p.kind === 'shared setting' ? `. Inherited by ${inherits.join(', ') || 'no event'}${not.length > 0 ? `; not by ${not.map(name).join(', ')}: send it with each of them` : ''}` : ''}`;
          }),
          ...(source.automaticProperties.length > 0
            ? [`Carried by the library itself, not to be sent again: ${source.automaticProperties.map(name).join(', ')}`]
            : []),
        ]),
    heading(2, 'Identifiers in each situation'),
    table(
      ['situation', 'must carry', 'what comes of it'],
      situationsOf(plan, source).map((c) => [c.situation, kinds(c.expected), c.leadsTo]),
    ),
    ...flows.flatMap((f): Block[] => [
      heading(2, f === '' ? 'Without a flow' : f),
      ...events.filter(([, e]) => e.flow === f).flatMap(([id]) => eventBlocks(plan, id, source, 3)),
    ]),
  ];
  if (users.length > 0)
    blocks.push(
      heading(2, 'User properties'),
      table(
        ['name', 'type', 'how', 'meaning', 'values'],
        users.map(([, u]) => [
          name(u.name),
          [u.type, u.unit].filter(Boolean).join('; '),
          u.write,
          u.description,
          (u.allowed.length > 0 ? u.allowed : u.samples).slice(0, 8).map(name).join(', '),
        ]),
      ),
    );
  const without = events.map(([, e]) => ({ e, ...withoutBuilding(plan, e) }));
  if (without.length > 0)
    blocks.push(
      heading(2, 'Where nobody can build it now'),
      para('Definitions over what is recorded already can help for a while. Their limits are listed beside what they can do.'),
      table(
        ['event', 'can be had', 'cannot be had'],
        without.map(({ e, can, cannot }) => [name(e.name), can.join(' ') || 'nothing', cannot.join(' ')]),
      ),
    );
  return { title, blocks };
};

/** What to change to come from one version to another, at one source or at all. */
export const changesDocument = (
  from: { readonly plan: Plan; readonly number: number },
  to: { readonly plan: Plan; readonly number: number },
  sourceId: Id | undefined,
): { readonly title: string; readonly blocks: readonly Block[] } => {
  const title = `What to change to come from version ${from.number} to ${to.number > 0 ? `version ${to.number}` : 'the draft'}${sourceId === undefined ? '' : ` at ${to.plan.source[sourceId]?.name ?? from.plan.source[sourceId]?.name ?? sourceId}`}`;
  const isOf = (plan: Plan, id: Id): boolean => {
    const e = plan.event[id];
    return e !== undefined && (sourceId === undefined || e.sources.some((s) => s.sourceId === sourceId));
  };
  const carriers = (plan: Plan, propertyId: Id): PlanEvent[] =>
    entries(plan, 'event')
      .filter(([id, e]) => isOf(plan, id) && isLive(e) && propertiesOf(plan, e).some((p) => p.id === propertyId))
      .map(([, e]) => e);
  const blocks: Block[] = [heading(1, title)];
  const changes = judgeChanges(diffPlans(from.plan, to.plan), from.plan, to.plan);
  const shown = (v: unknown): string =>
    (v === undefined || v === '' ? 'nothing' : typeof v === 'string' ? v : JSON.stringify(v)).slice(0, 300);
  let n = 0;
  for (const c of changes) {
    if (c.kind === 'event') {
      if (!isOf(from.plan, c.id) && !isOf(to.plan, c.id)) continue;
      const source = sourceId === undefined ? undefined : to.plan.source[sourceId];
      n++;
      if (c.what === 'added' || (!isOf(from.plan, c.id) && isOf(to.plan, c.id)))
        blocks.push(...eventBlocks(to.plan, c.id, source, 2), para('**New**: build it.'));
      else if (c.what === 'removed' || !isOf(to.plan, c.id)) blocks.push(heading(2, c.label), para('**Gone**: stop sending it.'));
      else
        blocks.push(
          heading(2, c.label),
          table(
            ['what', 'before', 'now', 'why it matters'],
            c.fields
              .filter((f) => f.impact !== 'wording' || f.field === 'trigger')
              .map((f) => [f.field ?? '', shown(f.before), shown(f.after), `${f.impact}: ${f.reason}`]),
          ),
        );
    } else if (c.kind === 'property') {
      const on = carriers(c.what === 'removed' ? from.plan : to.plan, c.id);
      const fields = c.fields.filter((f) => f.impact !== 'wording');
      if (on.length === 0 || (c.what === 'changed' && fields.length === 0)) continue;
      n++;
      blocks.push(heading(2, `Property ${c.label}`), para(`On ${on.map((e) => name(e.name)).join(', ')}.`));
      if (c.what !== 'changed') blocks.push(para(c.what === 'added' ? '**New**: send it.' : '**Gone**: stop sending it.'));
      else
        blocks.push(
          table(
            ['what', 'before', 'now', 'why it matters'],
            fields.map((f) => [f.field ?? '', shown(f.before), shown(f.after), `${f.impact}: ${f.reason}`]),
          ),
        );
    } else if (c.kind === 'source' && (sourceId === undefined || c.id === sourceId)) {
      const fields = c.fields.filter((f) => f.field === 'idKinds' || f.field === 'prerequisites');
      if (c.what === 'changed' && fields.length === 0) continue;
      n++;
      blocks.push(
        heading(2, `Source ${c.label}`),
        c.what === 'changed'
          ? table(
              ['what', 'before', 'now'],
              fields.map((f) => [f.field ?? '', shown(f.before), shown(f.after)]),
            )
          : para(c.what === 'added' ? '**New**.' : '**Gone**.'),
      );
    }
  }
  if (n === 0) blocks.push(para('Nothing that engineers have to change.'));
  return { title, blocks };
};
