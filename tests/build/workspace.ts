/** A workspace of one event and two sources, made over HTTP and published. */
import type { Edit } from '../../src/core/plan/edit';
import { create, event, property } from './plan';

const source = (id: string, name: string) =>
  create('source', id, {
    name,
    kind: 'web',
    mark: id[0]!.toUpperCase(),
    idKinds: { beforeSignIn: ['visitor'], afterSignIn: ['visitor', 'member'] },
  });

export const SMALL: readonly Edit[] = [
  source('shop', 'Shop'),
  source('desk', 'Desk'),
  create('identifierKind', 'visitor', { name: 'visitor', identifies: 'device', sample: 'v-sample' }),
  create('identifierKind', 'member', { name: 'member', identifies: 'person' }),
  property('code', { type: 'string' }),
  event('posted', {
    name: 'Parcel Posted',
    properties: [{ propertyId: 'code', required: true }],
    sources: [
      { sourceId: 'shop', required: true, build: 'agreed' },
      { sourceId: 'desk', required: true, build: 'agreed' },
    ],
  }),
];

/** Makes it; a write key of the source shop. */
export const smallWorkspace = async (url: string): Promise<string> => {
  const post = async (path: string, body: unknown): Promise<unknown> => {
    const r = await fetch(url + path, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });
    if (!r.ok) throw new Error(`${path}: ${r.status} ${await r.text()}`);
    return r.json();
  };
  await post('/api/edits', { edits: SMALL, label: 'A workspace', author: 'Ines' });
  await post('/api/publish', { note: 'first' });
  return ((await post('/api/keys', { sourceId: 'shop', label: 'test' })) as { key: string }).key;
};
