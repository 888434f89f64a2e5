/** A workspace whose names are what nobody thinks of: words of the language, markup, other scripts, signs with a meaning in addresses, great lengths. */
import { create, event, property, question } from './plan';
import type { Edit } from '../../src/core/plan/edit';

const ODD = ['__proto__', 'constructor', '<script>alert(1)</script>', 'größe & maß', '日本語の出来事', '%2F../..', "O'Brien; drop table", 'a'.repeat(200), '😀', 'a:b:c', 'a/b?c#d', ' spaced  out ']; // prettier-ignore

const id = (what: string, i: number): string => `${what}-${i}`;

export const ODD_EDITS: readonly Edit[] = [
  create('identifierKind', 'visitor', { name: 'visitor', identifies: 'device' }),
  create('identifierKind', 'member', { name: 'member:of', identifies: 'person' }),
  ...ODD.map((name, i) => create('source', id('s', i), { name, kind: (['web', 'mobile', 'kiosk', 'server'] as const)[i % 4]!, mark: String.fromCharCode(65 + i), idKinds: { beforeSignIn: ['visitor'], afterSignIn: ['visitor', 'member'] } })), // prettier-ignore
  ...ODD.map((name, i) => property(id('p', i), { name, type: (['string', 'number', 'boolean', 'timestamp'] as const)[i % 4]! })),
  ...ODD.map((name, i) => event(id('e', i), { name, properties: [{ propertyId: id('p', i), required: false }], sources: [{ sourceId: id('s', i), required: true, build: 'agreed' }] })), // prettier-ignore
  ...ODD.map(
    (name, i) =>
    question(id('q', i), { text: `How many ${name}?`, ...(i % 3 === 0 ? {} : { formula: i % 3 === 1 ? { type: 'active persons', events: [{ eventName: name, where: [] }], period: 'week' } : { type: 'top values', event: { eventName: name, where: [] }, property: [name], measure: 'messages', overDays: 28 } }) } as never), // prettier-ignore
  ),
];

/** Messages under each of these names, from each source, as the intake takes them. */
export const oddMessages = (sourceIndex: number, now: number): readonly object[] =>
  ODD.map((name, i) => ({
    id: `odd-${sourceIndex}-${i}`,
    name,
    time: new Date(now - i * 3_600_000).toISOString(),
    ids: i % 2 ? { visitor: `v ${name}` } : { 'member:of': `m ${name}` },
    properties: Object.fromEntries([[ODD[(i + 1) % ODD.length], name]]),
    user_properties: { [name]: name },
    release: name.slice(0, 100),
    page: `/${name}`,
  }));

export const ODD_SOURCES = ODD.map((_, i) => id('s', i));
