/** The fields of an event. */
import { setField } from '../edit';
import { BUILD_STATES, entries, ONCE_PER, TRIGGER_KINDS, type EventSource, type Plan } from '../plan';
import { renameEvent } from '../rename';
import { questionsServedBy } from '../../questions/coverage';
import { settingsOf } from '../plan';
import { propertiesFrom, propertiesText } from './event-properties';
import { fieldsOf, idsByName, readOnly, some, type Field } from './field';
import { joinList, splitList } from './list-text';
import { refNamed } from '../plan-index';
import { refOfProperty, refText } from '../property-path';

const f = fieldsOf('event');

const sourceText = (plan: Plan, s: EventSource): string => {
  const marks = [
    ...(s.required ? [] : ['optional']),
    ...(s.build === 'proposed' ? [] : [s.build]),
    ...(s.since ? [`since ${s.since}`] : []),
  ];
  return `${plan.source[s.sourceId]?.name ?? s.sourceId}${marks.length > 0 ? ` (${marks.join('; ')})` : ''}`;
};

/** Sources as text: `Web catalogue (built; since 2.3.0), Phone app (optional)`. `seen` and `verified` are set by what arrives, so they
 *  are kept where they are and refused where they do not.
 */
const sourcesFrom = (plan: Plan, text: string, before: readonly EventSource[]): EventSource[] | string => {
  const byName = new Map(entries(plan, 'source').map(([id, s]) => [s.name, id]));
  const out: EventSource[] = [];
  for (const item of splitList(text)) {
    const m = /^(.*?)(?:\s*\(([^()]*)\))?$/s.exec(item)!;
    const ids = idsByName([m[1]!.trim()], byName, 'a source');
    if (typeof ids === 'string') return ids;
    const sourceId = ids[0]!;
    const known = before.find((s) => s.sourceId === sourceId);
    // What arrives has set the build state; a text that does not speak of it leaves it alone.
    let entry: EventSource = {
      sourceId,
      required: true,
      build: known?.build ?? 'proposed',
      ...(known?.since ? { since: known.since } : {}),
    };
    for (const mark of (m[2] ?? '').split(';').map((x) => x.trim())) {
      const build = BUILD_STATES.find((b) => b === mark);
      if (mark === 'optional') entry = { ...entry, required: false };
      else if (mark === 'required' || mark === '') continue;
      else if (mark.startsWith('since ')) entry = { ...entry, since: mark.slice('since '.length).trim() };
      else if (build) {
        if ((build === 'seen' || build === 'verified') && known?.build !== build)
          return `“${build}” is set by what arrives, never by hand; write agreed or built.`;
        entry = { ...entry, build };
      } else return `“${mark}” is not understood; write optional, ${BUILD_STATES.join(', ')}, or since and a release.`;
    }
    out.push(entry);
  }
  return out;
};

const SECOND = 1000;

export const eventFields: readonly Field[] = [
  {
    key: 'name',
    title: 'Event',
    width: 196,
    wire: true,
    editor: 'text',
    read: (plan, id) => plan.event[id]?.name ?? '',
    write: (plan, id, text, how) => {
      const event = plan.event[id];
      const name = text.trim();
      if (!event) return 'This event no longer exists.';
      if (name === '') return 'Enter a name for the event.';
      const edits = renameEvent(plan, id, name, how.keepsFormer(plan, 'event', id));
      // A name written for the first time tells object and action, where they are not set by hand.
      const parts = how.partsOf?.(name, settingsOf(plan).naming);
      return parts && event.object === '' && event.action === ''
        ? [
            ...edits,
            ...some(
              setField(plan, 'event', id, 'object', parts.object.join(' ')),
              setField(plan, 'event', id, 'action', parts.action.join(' ')),
            ),
          ]
        : edits;
    },
  },
  f.text('trigger', { title: 'Trigger', width: 300, long: true, trim: false }),
  f.choice('triggerKind', TRIGGER_KINDS, 'a kind of trigger', { title: 'Trigger kind', width: 104 }),
  {
    key: 'sources',
    title: 'Sources',
    width: 112,
    editor: 'list',
    options: (plan) => entries(plan, 'source').map(([, s]) => s.name),
    read: (plan, id) => joinList((plan.event[id]?.sources ?? []).map((s) => sourceText(plan, s))),
    write: (plan, id, text) => {
      const list = sourcesFrom(plan, text, plan.event[id]?.sources ?? []);
      return typeof list === 'string' ? list : some(setField(plan, 'event', id, 'sources', list));
    },
  },
  {
    key: 'properties',
    title: 'Properties',
    width: 250,
    wire: true,
    editor: 'list',
    options: (plan) =>
      entries(plan, 'property')
        .filter(([, p]) => !p.retired)
        .map(([, p]) => refText(refOfProperty(p))),
    read: (plan, id) => propertiesText(plan, plan.event[id]?.properties ?? []),
    write: (plan, id, text) => {
      const list = propertiesFrom(plan, text, plan.event[id]?.properties ?? []);
      return typeof list === 'string' ? list : some(setField(plan, 'event', id, 'properties', list));
    },
  },
  {
    key: 'sharedSets',
    title: 'Shared sets',
    width: 100,
    editor: 'list',
    options: (plan) => entries(plan, 'sharedSet').map(([, s]) => s.name),
    read: (plan, id) => joinList((plan.event[id]?.sharedSets ?? []).map((s) => plan.sharedSet[s]?.name ?? s)),
    write: (plan, id, text) => {
      const ids = idsByName(splitList(text), new Map(entries(plan, 'sharedSet').map(([sid, s]) => [s.name, sid])), 'a shared set');
      return typeof ids === 'string' ? ids : some(setField(plan, 'event', id, 'sharedSets', ids));
    },
  },
  f.text('flow', {
    title: 'Flow',
    width: 96,
    options: (plan) => [...new Set(entries(plan, 'event').map(([, e]) => e.flow))].filter(Boolean),
  }),
  f.text('owner', {
    title: 'Owner',
    width: 150,
    options: (plan) => [...new Set(entries(plan, 'event').map(([, e]) => e.owner))].filter(Boolean),
  }),
  f.text('description', { title: 'Description', width: 260, long: true, trim: false }),
  f.text('object', {
    title: 'Object',
    width: 110,
    hidden: true,
    options: (plan) =>
      [...new Set([...settingsOf(plan).naming.objects, ...entries(plan, 'event').map(([, e]) => e.object)])].filter(Boolean),
  }),
  f.text('action', { title: 'Action', width: 110, hidden: true }),
  {
    key: 'counterpart',
    title: 'Confirmed by',
    width: 230,
    wire: true,
    hidden: true,
    editor: 'text',
    read: (plan, id) => {
      const c = plan.event[id]?.counterpart;
      return c ? `${c.eventName} by ${refText(c.keyProperty)} within ${c.windowMs / SECOND} s` : '';
    },
    write: (plan, id, text) => {
      if (text.trim() === '') return some(setField(plan, 'event', id, 'counterpart', undefined));
      const m = /^(.+) by (.+) within (\d+(?:\.\d+)?) s$/.exec(text.trim());
      if (!m) return 'Write it as: Reservation Confirmed by request_id within 10 s';
      return some(
        setField(plan, 'event', id, 'counterpart', {
          eventName: m[1]!,
          keyProperty: refNamed(plan, m[2]!),
          windowMs: Number(m[3]) * SECOND,
        }),
      );
    },
  },
  {
    key: 'series',
    title: 'Milestones',
    width: 190,
    wire: true,
    hidden: true,
    editor: 'text',
    read: (plan, id) => {
      const s = plan.event[id]?.series;
      return s ? `${refText(s.property)}: ${joinList(s.values)}` : '';
    },
    write: (plan, id, text) => {
      if (text.trim() === '') return some(setField(plan, 'event', id, 'series', undefined));
      const at = text.indexOf(':');
      if (at < 1) return 'Write it as: guide_percent: 25, 50, 75, 100';
      return some(
        setField(plan, 'event', id, 'series', {
          property: refNamed(plan, text.slice(0, at).trim()),
          values: splitList(text.slice(at + 1)),
        }),
      );
    },
  },
  f.text('scope', { title: 'Only on pages under', width: 150, wire: true, hidden: true }),
  f.choice('oncePer', [...ONCE_PER, ''], 'a unit', { title: 'Once per', width: 90, hidden: true }),
  f.flag('conversion', { title: 'Conversion', width: 84, hidden: true }),
  f.text('keepReason', { title: 'Kept because', width: 200, hidden: true }),
  f.text('notes', { title: 'Notes', width: 220, long: true, trim: false, hidden: true }),
  f.flag('retired', { title: 'Retired', width: 72, hidden: true }),
  f.list('formerNames', { title: 'Former names', width: 180, wire: true, hidden: true }),
  f.number('order', { title: 'Order', width: 66, hidden: true, needed: true }),
  readOnly('questions', { title: 'Questions', width: 84, hidden: true }, (plan, id) =>
    String(questionsServedBy(plan, plan.event[id]?.name ?? '').length),
  ),
];
