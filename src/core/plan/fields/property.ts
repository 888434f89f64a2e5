/** The fields of a property. */
import { patternRefused } from '../pattern';
import { entries, FORMATS, PERSONAL_DATA_CLASSES, PROPERTY_TYPES } from '../plan';
import { carriersOf } from '../plan-index';
import { moveProperty, renameProperty } from '../rename';
import { UNITS } from '../unit';
import { joinList, splitList } from './list-text';
import { fieldsOf, readOnly, type Field } from './field';

const f = fieldsOf('property');

export const propertyFields: readonly Field[] = [
  {
    key: 'name',
    title: 'Property',
    width: 178,
    wire: true,
    editor: 'text',
    read: (plan, id) => plan.property[id]?.name ?? '',
    write: (plan, id, text, how) => {
      if (!plan.property[id]) return 'This property no longer exists.';
      return text.trim() === ''
        ? 'Enter a name for the property.'
        : renameProperty(plan, id, text.trim(), how.keepsFormer(plan, 'property', id));
    },
  },
  {
    key: 'within',
    title: 'Inside of',
    width: 130,
    wire: true,
    hidden: true,
    shownWhen: (plan) => entries(plan, 'property').some(([, p]) => p.within && p.within.length > 0),
    editor: 'list',
    read: (plan, id) => joinList(plan.property[id]?.within ?? []),
    write: (plan, id, text) => moveProperty(plan, id, splitList(text)),
  },
  f.choice('type', PROPERTY_TYPES, 'a type', { title: 'Type', width: 96 }),
  f.choice('unit', [...UNITS.keys(), ''], 'a unit', { title: 'Unit', width: 98 }),
  f.number('min', { title: 'Minimum', width: 84 }),
  f.number('max', { title: 'Maximum', width: 90 }),
  f.list('allowed', { title: 'Allowed values', width: 210, wire: true }),
  f.list('samples', { title: 'Samples', width: 190, wire: true }),
  f.text('description', { title: 'Description', width: 250, long: true, trim: false }),
  readOnly('used', { title: 'Events', width: 64 }, (plan, id) => String(carriersOf(plan, id).length)),
  f.text('describes', {
    title: 'Describes',
    width: 110,
    hidden: true,
    options: (plan) => [...new Set(entries(plan, 'property').map(([, p]) => p.describes))].filter(Boolean),
  }),
  f.text('pattern', { title: 'Pattern', width: 160, wire: true, hidden: true, refuses: patternRefused }),
  f.choice('format', [...FORMATS, ''], 'a format', { title: 'Format', width: 96, hidden: true }),
  f.number('distinct', { title: 'Distinct values', width: 110, hidden: true, whole: true, min: 1 }),
  f.choice('personalData', PERSONAL_DATA_CLASSES, 'a class', { title: 'Personal data', width: 110, hidden: true }),
  f.text('keepReason', { title: 'Kept because', width: 200, hidden: true }),
  f.flag('retired', { title: 'Retired', width: 72, hidden: true }),
  f.list('formerNames', { title: 'Former names', width: 180, wire: true, hidden: true }),
];
