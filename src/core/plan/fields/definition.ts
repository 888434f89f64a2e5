/** The fields of a definition. Its sentence is edited on the bench, where it is seen what it takes. */
import { EVERYTHING } from '../../definitions/definition';
import { changeText, groupText } from '../../definitions/text';
import { questionsServedBy } from '../../questions/coverage';
import { setField } from '../edit';
import { entries, settingsOf } from '../plan';
import { renameDefinition } from '../rename';
import { fieldsOf, readOnly, some, type Field } from './field';
import { joinList, splitList } from './list-text';

const f = fieldsOf('definition');

/** Sources that are no events, in the words in which a cell has them. */
const WHOLE_KINDS = ['interactions', 'views'] as const;

/** A day as it is shown, without the packages that read one: this is sent before the first view. */
const dayIn = (timeZone: string, at: number): string =>
  new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric', timeZone }).format(at);

/** Cells have no marks for names. */
const plain = (text: string): string => text.replaceAll('`', '');

export const definitionFields: readonly Field[] = [
  {
    ...f.text('name', { title: 'Definition', width: 180 }),
    write: (plan, id, text) => renameDefinition(plan, id, text.trim()),
  },
  {
    key: 'source',
    title: 'Made of',
    width: 200,
    wire: true,
    editor: 'list',
    options: (plan) => [...WHOLE_KINDS, ...entries(plan, 'event').map(([, e]) => e.name)],
    read: (plan, id) => {
      const source = plan.definition[id]?.source;
      return !source ? '' : source.of === 'events' ? joinList(source.names) : source.of;
    },
    write: (plan, id, text) => {
      const names = splitList(text);
      const whole = WHOLE_KINDS.find((k) => names.includes(k));
      if (whole !== undefined && names.length > 1) return `“${whole}” cannot be joined with events; write it alone.`;
      return some(setField(plan, 'definition', id, 'source', whole === undefined ? { of: 'events', names } : { of: whole }));
    },
  },
  readOnly('where', { title: 'Where', width: 320 }, (plan, id) =>
    plain(groupText(plan.definition[id]?.where ?? EVERYTHING, (source) => plan.source[source]?.name ?? source)),
  ),
  readOnly('since', { title: 'From', width: 100 }, (plan, id) => {
    const since = plan.definition[id]?.since;
    return since === undefined ? 'all history' : dayIn(settingsOf(plan).timeZone, since);
  }),
  f.flag('conversion', { title: 'Conversion', width: 92 }),
  f.text('owner', { title: 'Owner', width: 150 }),
  readOnly('questions', { title: 'Questions', width: 84 }, (plan, id) =>
    String(questionsServedBy(plan, plan.definition[id]?.name ?? '').length),
  ),
  f.text('description', { title: 'Description', width: 300, long: true, trim: false }),
  { ...f.flag('retired', { title: 'Retired', width: 80 }), hidden: true },
  {
    ...readOnly(
      'changes',
      { title: 'Properties', width: 240 },
      (plan, id) => plain((plan.definition[id]?.changes ?? []).map(changeText).join('; ')) || 'copied',
    ),
    hidden: true,
  },
  { ...f.text('keepReason', { title: 'Kept because', width: 200 }), hidden: true },
];
