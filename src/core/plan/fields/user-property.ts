/** The fields of a user property. Once it is registered its name is locked. */
import { registrationRefused } from '../limits';
import { setField } from '../edit';
import { entries, PERSONAL_DATA_CLASSES, PROPERTY_TYPES, WRITES } from '../plan';
import { renameUserProperty } from '../rename';
import { UNITS } from '../unit';
import { fieldsOf, flagOf, idsByName, some, type Field } from './field';
import { joinList, splitList } from './list-text';

const f = fieldsOf('userProperty');

export const userPropertyFields: readonly Field[] = [
  {
    key: 'name',
    title: 'User property',
    width: 178,
    wire: true,
    editor: 'text',
    hint: (plan, id) => {
      const u = plan.userProperty[id];
      return u?.registered && !u.retired
        ? 'Registered: its name is locked. Another name makes a new user property beside it, and retires this one.'
        : undefined;
    },
    read: (plan, id) => plan.userProperty[id]?.name ?? '',
    write: (plan, id, text, how) => {
      if (!plan.userProperty[id]) return 'This user property no longer exists.';
      return text.trim() === '' ? 'Enter a name for the user property.' : renameUserProperty(plan, id, text.trim(), how.newId);
    },
  },
  f.choice('type', PROPERTY_TYPES, 'a type', { title: 'Type', width: 90 }),
  f.choice('unit', [...UNITS.keys(), ''], 'a unit', { title: 'Unit', width: 90 }),
  f.list('allowed', { title: 'Allowed values', width: 200, wire: true }),
  {
    key: 'buckets',
    title: 'Buckets up to',
    width: 120,
    editor: 'list',
    read: (plan, id) => joinList((plan.userProperty[id]?.buckets ?? []).map(String)),
    write: (plan, id, text) => {
      const bounds = splitList(text).map(Number);
      if (bounds.some((n) => !Number.isFinite(n))) return 'Buckets are numbers: 0, 1, 5, 10';
      return some(
        setField(
          plan,
          'userProperty',
          id,
          'buckets',
          [...new Set(bounds)].sort((a, b) => a - b),
        ),
      );
    },
  },
  {
    key: 'registered',
    title: 'Registered',
    width: 86,
    editor: 'flag',
    options: () => ['yes', 'no'],
    hint: (plan, id) => (plan.userProperty[id]?.registered ? undefined : 'Registering cannot be undone: from then on the name is locked.'),
    read: (plan, id) => (plan.userProperty[id]?.registered ? 'yes' : 'no'),
    write: (plan, id, text, how) => {
      const u = plan.userProperty[id];
      const flag = flagOf(text);
      if (!u || flag === undefined) return `“${text}” is neither yes nor no.`;
      if (flag === u.registered) return [];
      if (!flag) return 'A registered user property stays registered: retire it instead.';
      if (u.temporary) return 'It is marked temporary, and a temporary one is never registered.';
      return (
        registrationRefused(plan) ??
        some(setField(plan, 'userProperty', id, 'registered', true), setField(plan, 'userProperty', id, 'registeredAt', how.now))
      );
    },
  },
  {
    key: 'sources',
    title: 'Set by',
    width: 160,
    editor: 'list',
    options: (plan) => entries(plan, 'source').map(([, s]) => s.name),
    read: (plan, id) => joinList((plan.userProperty[id]?.sources ?? []).map((s) => plan.source[s]?.name ?? s)),
    write: (plan, id, text) => {
      const ids = idsByName(splitList(text), new Map(entries(plan, 'source').map(([sid, s]) => [s.name, sid])), 'a source');
      return typeof ids === 'string' ? ids : some(setField(plan, 'userProperty', id, 'sources', ids));
    },
  },
  f.text('description', { title: 'Description', width: 230, long: true, trim: false }),
  f.choice('write', WRITES, 'a way of setting it', { title: 'How it is set', width: 100 }),
  f.list('samples', { title: 'Samples', width: 160, wire: true, hidden: true }),
  f.number('distinct', { title: 'Distinct values', width: 110, hidden: true, whole: true, min: 1 }),
  f.choice('personalData', PERSONAL_DATA_CLASSES, 'a class', { title: 'Personal data', width: 110, hidden: true }),
  {
    ...f.flag('temporary', { title: 'Temporary', width: 90, hidden: true }),
    write: (plan, id, text) => {
      const flag = flagOf(text);
      if (flag === undefined) return `“${text}” is neither yes nor no.`;
      if (flag && plan.userProperty[id]?.registered) return 'It is registered already, and that cannot be taken back.';
      return some(setField(plan, 'userProperty', id, 'temporary', flag));
    },
  },
  f.flag('retired', { title: 'Retired', width: 72, hidden: true }),
];
