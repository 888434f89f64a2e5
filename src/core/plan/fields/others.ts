/** The fields of shared sets, sources and identifier kinds. */
import { blank } from '../defaults';
import { sameValue, setField } from '../edit';
import { patternRefused } from '../pattern';
import { entries, SOURCE_KINDS } from '../plan';
import { propertiesFrom, propertiesText } from './event-properties';
import { fieldsOf, readOnly, some, type Field } from './field';
import { joinList, splitList } from './list-text';
import { refOfProperty, refText } from '../property-path';
import { freeMark, NEW_SOURCE } from '../source-mark';

const sets = fieldsOf('sharedSet');

export const sharedSetFields: readonly Field[] = [
  sets.text('name', { title: 'Shared set', width: 170 }),
  {
    key: 'properties',
    title: 'Properties',
    width: 420,
    wire: true,
    editor: 'list',
    options: (plan) => entries(plan, 'property').map(([, p]) => refText(refOfProperty(p))),
    read: (plan, id) => propertiesText(plan, plan.sharedSet[id]?.properties ?? []),
    write: (plan, id, text) => {
      const list = propertiesFrom(plan, text, plan.sharedSet[id]?.properties ?? []);
      return typeof list === 'string' ? list : some(setField(plan, 'sharedSet', id, 'properties', list));
    },
  },
  sets.text('description', { title: 'Description', width: 300, long: true, trim: false }),
  readOnly('used', { title: 'Events', width: 64 }, (plan, id) =>
    String(entries(plan, 'event').filter(([, e]) => e.sharedSets.includes(id)).length),
  ),
];

const sources = fieldsOf('source');

const idKinds = (key: 'beforeSignIn' | 'afterSignIn', title: string): Field => ({
  key,
  title,
  width: 180,
  wire: true,
  editor: 'list',
  options: (plan) => entries(plan, 'identifierKind').map(([, k]) => k.name),
  read: (plan, id) => joinList(plan.source[id]?.idKinds[key] ?? []),
  write: (plan, id, text) => {
    const source = plan.source[id];
    if (!source) return 'This source no longer exists.';
    const wanted = splitList(text);
    const planned = entries(plan, 'identifierKind').map(([, k]) => k.name);
    // What is there already may stay, though its kind was removed since.
    const unknown = wanted.find((k) => !planned.includes(k) && !source.idKinds[key].includes(k));
    if (unknown !== undefined)
      return `“${unknown}” is no identifier kind of the plan; it has ${planned.join(', ') || 'none'}. Add the kind first.`;
    return some(setField(plan, 'source', id, 'idKinds', { ...source.idKinds, [key]: wanted }));
  },
});

const sourceName = sources.text('name', { title: 'Source', width: 170 });
const sourceKind = sources.choice('kind', SOURCE_KINDS, 'a kind of source', { title: 'Kind', width: 84 });
const UNTOUCHED = blank('source', {}).idKinds.beforeSignIn;

export const sourceFields: readonly Field[] = [
  {
    ...sourceName,
    write: (plan, id, text, how) => {
      const written = sourceName.write!(plan, id, text, how);
      // The first name gives a source its mark.
      if (typeof written === 'string' || plan.source[id]?.name !== NEW_SOURCE) return written;
      return [...written, ...some(setField(plan, 'source', id, 'mark', freeMark(plan, text, id)))];
    },
  },
  {
    ...sourceKind,
    write: (plan, id, text, how) => {
      const written = sourceKind.write!(plan, id, text, how);
      const source = plan.source[id];
      // A server acts for somebody who is known: what a new source begins with is none of its own.
      if (
        typeof written === 'string' ||
        !source ||
        source.kind === 'server' ||
        text.trim() !== 'server' ||
        !sameValue(source.idKinds.beforeSignIn, UNTOUCHED)
      )
        return written;
      return [...written, ...some(setField(plan, 'source', id, 'idKinds', { ...source.idKinds, beforeSignIn: [] }))];
    },
  },
  {
    ...sources.text('mark', { title: 'Mark', width: 60 }),
    write: (plan, id, text) => {
      const mark = text.trim().toUpperCase();
      if (Array.from(mark).length !== 1) return 'A mark is one letter.';
      if (mark === plan.source[id]?.mark) return [];
      const other = entries(plan, 'source').find(([i, s]) => i !== id && s.mark === mark)?.[1];
      return other
        ? `${mark} is the mark of ${other.name}; sources are told apart by it.`
        : some(setField(plan, 'source', id, 'mark', mark));
    },
  },
  sources.text('owner', { title: 'Owner', width: 160 }),
  idKinds('beforeSignIn', 'IDs before sign-in'),
  idKinds('afterSignIn', 'IDs after sign-in'),
  sources.list('automaticProperties', { title: 'Automatic properties', width: 150, wire: true }),
  sources.list('automaticEvents', { title: 'Automatic events', width: 150, wire: true }),
  sources.text('environment', { title: 'Environment', width: 110, options: () => ['production', 'staging'] }),
  {
    key: 'expectedLag',
    title: 'Expected lag, s',
    width: 110,
    hidden: true,
    editor: 'number',
    read: (plan, id) => String((plan.source[id]?.expectedLagMs ?? 0) / 1000),
    write: (plan, id, text) => {
      const s = Number(text.trim());
      return Number.isFinite(s) && s >= 0
        ? some(setField(plan, 'source', id, 'expectedLagMs', s * 1000))
        : `“${text}” is not a time in seconds.`;
    },
  },
];

const kinds = fieldsOf('identifierKind');

export const identifierKindFields: readonly Field[] = [
  kinds.text('name', { title: 'Identifier kind', width: 150, wire: true }),
  kinds.choice('identifies', ['person', 'device', 'visit'], 'something that it identifies', { title: 'Identifies', width: 96 }),
  kinds.text('sample', { title: 'Sample', width: 170, wire: true }),
  kinds.text('pattern', { title: 'Pattern', width: 150, wire: true, refuses: patternRefused }),
  kinds.flag('stable', { title: 'Stable', width: 72 }),
  kinds.flag('personalData', { title: 'Personal data', width: 106 }),
  kinds.choice('scope', ['one source', 'all sources'], 'a scope', { title: 'Scope', width: 100 }),
  kinds.text('description', { title: 'Description', width: 260, long: true, trim: false }),
];
