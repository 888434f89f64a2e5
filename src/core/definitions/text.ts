/** A definition in words. */
import { refText } from '../plan/property-path';
import { takesNone, type Change, type Condition, type Definition, type Group, type Operand, type Subject } from './definition';

const quoted = (v: Operand): string => (typeof v === 'string' ? `“${v}”` : String(v));

export const subjectText = (s: Subject): string => {
  switch (s.of) {
    case 'property':
      return `\`${refText(s.name)}\``;
    case 'user property':
      return `the user’s \`${refText(s.name)}\``;
    default:
      return `the ${s.of}`;
  }
};

/** What a source's ID is called. */
type SourceName = (id: string) => string;

export const conditionText = ({ subject, op, values }: Condition, sourceName: SourceName = (id) => id): string => {
  const shown = (v: Operand): string => quoted(subject.of === 'source' ? sourceName(String(v)) : v);
  return `${subjectText(subject)} ${op}${takesNone(op) ? '' : values.length === 0 ? ' …' : ` ${values.map(shown).join(', ')}`}`;
};

const joined = (match: Group['match'], parts: readonly string[]): string => parts.join(match === 'all' ? ' and ' : ' or ');

/** The conditions as a sentence; what is grouped stands in brackets. Empty where nothing narrows it. */
export const groupText = ({ match, conditions, groups }: Group, sourceName?: SourceName): string => {
  const text = (c: Condition): string => conditionText(c, sourceName);
  return joined(match, [
    ...conditions.map(text),
    ...groups.flatMap((g) => (g.conditions.length === 0 ? [] : [`(${joined(g.match, g.conditions.map(text))})`])),
  ]);
};

export const changeText = (c: Change): string => {
  switch (c.what) {
    case 'set':
      return `\`${refText(c.name)}\` is set to ${quoted(c.value)}`;
    case 'rename':
      return `\`${refText(c.name)}\` is called \`${c.to}\``;
    default:
      return `\`${refText(c.name)}\` is left out`;
  }
};

/** What the definition is, in a sentence without its name. */
export const definitionText = ({ source, where, changes }: Pick<Definition, 'source' | 'where' | 'changes'>): string => {
  const of =
    source.of === 'interactions'
      ? 'Interactions'
      : source.of === 'views'
        ? 'Views'
        : `Messages of ${source.names.map((n) => `\`${n}\``).join(' or ')}`;
  const conditions = groupText(where);
  const copied = changes.length === 0 ? '' : ` Properties are copied, but ${changes.map(changeText).join('; ')}.`;
  return `${of}${conditions === '' ? '' : ` where ${conditions}`}.${copied}`;
};
