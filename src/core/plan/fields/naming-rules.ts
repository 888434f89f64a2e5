/** The naming rules as rows: one setting a row, so that they are edited like the rest of the plan. */
import { CASE_STYLES } from '../../naming/case-style';
import { setField } from '../edit';
import { settingsOf, SETTINGS_ID, type Id, type NamingRules, type Plan } from '../plan';
import { flagOf, some, type Editor, type Field, type Written } from './field';
import { joinList, splitList } from './list-text';

interface Row {
  readonly id: Id;
  readonly title: string;
  readonly note: string;
  readonly editor: Editor;
  readonly options?: readonly string[];
  readonly read: (n: NamingRules) => string;
  /** The rules with the text in them, or why it is refused. */
  readonly write: (n: NamingRules, text: string) => NamingRules | string;
}

type KeyOf<V> = { [K in keyof NamingRules]: NamingRules[K] extends V ? K : never }[keyof NamingRules];

const choice = (id: KeyOf<string>, title: string, note: string, options: readonly string[]): Row => ({
  id,
  title,
  note,
  editor: 'choice',
  options,
  read: (n) => n[id],
  write: (n, text) => {
    const found = options.find((o) => o.toLowerCase() === text.trim().toLowerCase());
    return found === undefined ? `“${text}” is not on the list; choose ${options.join(', ')}.` : { ...n, [id]: found };
  },
});

const list = (id: KeyOf<readonly string[]>, title: string, note: string): Row => ({
  id,
  title,
  note,
  editor: 'list',
  read: (n) => joinList(n[id]),
  write: (n, text) => ({ ...n, [id]: [...new Set(splitList(text))] }),
});

export const NAMING_ROWS: readonly Row[] = [
  choice('eventCase', 'Case of event names', 'How the words of an event’s name are joined.', CASE_STYLES),
  choice('propertyCase', 'Case of property names', 'The same for properties.', CASE_STYLES),
  choice('userPropertyCase', 'Case of user property names', 'The same for user properties.', CASE_STYLES),
  choice('valueCase', 'Case of listed values', '“any” leaves values alone.', [...CASE_STYLES, 'any']),
  choice('wordOrder', 'Word order of events', 'Object then action sorts by the thing; action then object reads like a sentence.', [
    'object then action',
    'action then object',
  ]),
  choice('tense', 'Tense of the action', 'The past says that it has happened.', ['past', 'present']),
  list('objects', 'Agreed objects', 'Things that events happen to. Empty: any.'),
  list('actions', 'Agreed actions', 'As used in names. They take precedence over the word list for verbs. Empty: any.'),
  {
    id: 'synonyms',
    title: 'Synonyms',
    note: 'The agreed word, then the others: borrow = rent, lease; member = customer',
    editor: 'text',
    read: (n) => n.synonyms.map(([agreed, ...others]) => `${agreed ?? ''} = ${others.join(', ')}`).join('; '),
    write: (n, text) => {
      const groups: string[][] = [];
      for (const part of text.split(';').map((p) => p.trim())) {
        if (part === '') continue;
        const [agreed = '', others, more] = part.split('=');
        if (others === undefined || more !== undefined || agreed.trim() === '')
          return `“${part}” is not understood; write borrow = rent, lease`;
        groups.push([agreed.trim(), ...splitList(others)]);
      }
      return { ...n, synonyms: groups };
    },
  },
  list('vagueNames', 'Vague names', 'Property names that say nothing by themselves.'),
  list('reservedNames', 'Reserved names', 'Names that the envelope of a message uses.'),
  {
    id: 'maxLength',
    title: 'Longest name',
    note: 'In characters.',
    editor: 'number',
    read: (n) => String(n.maxLength),
    write: (n, text) => {
      const v = Number(text.trim());
      return Number.isInteger(v) && v >= 1 && v <= 1000 ? { ...n, maxLength: v } : 'A whole number from 1 to 1,000.';
    },
  },
  {
    id: 'plainCharacters',
    title: 'Plain characters only',
    note: 'A to Z, digits, blanks and - _ . / alone.',
    editor: 'flag',
    options: ['yes', 'no'],
    read: (n) => (n.plainCharacters ? 'yes' : 'no'),
    write: (n, text) => {
      const flag = flagOf(text);
      return flag === undefined ? `“${text}” is neither yes nor no.` : { ...n, plainCharacters: flag };
    },
  },
];

const rowOf = (id: Id): Row | undefined => NAMING_ROWS.find((r) => r.id === id);

const writeRow = (plan: Plan, id: Id, text: string): Written => {
  const { naming } = settingsOf(plan);
  const next = rowOf(id)?.write(naming, text) ?? 'There is no such rule.';
  return typeof next === 'string' ? next : some(setField(plan, 'settings', SETTINGS_ID, 'naming', next));
};

export const namingFields: readonly Field[] = [
  { key: 'title', title: 'Naming rule', width: 230, editor: 'text', read: (_, id) => rowOf(id)?.title ?? '', write: undefined },
  {
    key: 'value',
    title: 'Value',
    width: 360,
    wire: true,
    editor: 'text',
    read: (plan, id) => rowOf(id)?.read(settingsOf(plan).naming) ?? '',
    write: writeRow,
  },
  { key: 'note', title: 'What it does', width: 380, editor: 'text', read: (_, id) => rowOf(id)?.note ?? '', write: undefined },
];

/** The editor of a row's value: each rule has its own. */
export const namingEditor = (id: Id): { editor: Editor; options: readonly string[] } => ({
  editor: rowOf(id)?.editor ?? 'text',
  options: rowOf(id)?.options ?? [],
});
