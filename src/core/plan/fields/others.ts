/** The fields of shared sets, sources and identifier kinds. */
import { setField } from '../edit';
import { patternRefused } from '../pattern';
import { entries, SOURCE_KINDS } from '../plan';
import { propertiesFrom, propertiesText } from './event-properties';
import { fieldsOf, readOnly, some, type Field } from './field';
import { joinList, splitList } from './list-text';
import { refOfProperty, refText } from '../property-path';

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
    return source
      ? some(setField(plan, 'source', id, 'idKinds', { ...source.idKinds, [key]: splitList(text) }))
      : 'This source no longer exists.';
  },
});

export const sourceFields: readonly Field[] = [
  sources.text('name', { title: 'Source', width: 170 }),
  sources.choice('kind', SOURCE_KINDS, 'a kind of source', { title: 'Kind', width: 84 }),
  {
    ...sources.text('mark', { title: 'Mark', width: 60 }),
    write: (plan, id, text) =>
      Array.from(text.trim()).length === 1
        ? some(setField(plan, 'source', id, 'mark', text.trim().toUpperCase()))
        : 'A mark is one letter.',
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
