/** Persons of the recorded messages, under each counting basis. */
import { z } from 'zod';
import { countingBases, type BasisFigure } from '../core/identity/counting-basis';
import { settingsOf } from '../core/plan/plan';
import { loadDraft } from '../db/plan-store';
import { storeIdentity } from '../db/identity-store';
import { answering, json, readJson } from './answer';
import { currentPersons, currentTable } from './columns';
import { database } from './context';

export interface IdentityReport {
  readonly messages: number;
  readonly identifiers: readonly { readonly kind: string; readonly distinct: number }[];
  readonly bases: readonly BasisFigure[];
  readonly links: number;
  readonly refused: readonly { readonly a: string; readonly b: string; readonly at: number }[];
  readonly refusedCount: number;
  /** Identifiers that are placeholders, with the messages that carry them. */
  readonly placeholders: readonly { readonly kind: string; readonly value: string; readonly messages: number }[];
  /** User IDs that no other identifier is linked to. */
  readonly orphans: number;
  readonly userIds: number;
}

export const identityReport = (): Promise<Response> =>
  answering(async () => {
    const { plan } = await loadDraft(database());
    const rules = settingsOf(plan).identity;
    const table = await currentTable();
    const persons = currentPersons(table, rules);
    const perKind = new Map<string, number>();
    for (const n of table.nodes) perKind.set(n.kind, (perKind.get(n.kind) ?? 0) + 1);
    const members = new Int32Array(persons.count);
    for (const p of persons.personOfNode) if (p >= 0) members[p]!++;
    let orphans = 0;
    const placeholders = new Map<number, number>();
    table.nodes.forEach((n, i) => {
      const person = persons.personOfNode[i]!;
      if (person < 0) placeholders.set(i, 0);
      else if (n.kind === 'user' && members[person] === 1) orphans++;
    });
    for (const column of table.ids.values())
      for (let row = 0; row < table.length && placeholders.size > 0; row++) {
        const n = placeholders.get(column.get(row));
        if (n !== undefined) placeholders.set(column.get(row), n + 1);
      }
    const name = (i: number): string => `${table.nodes[i]!.kind} ${table.nodes[i]!.value}`;
    return json({
      messages: table.length,
      identifiers: [...perKind].map(([kind, distinct]) => ({ kind, distinct })),
      bases: countingBases(table, rules, persons),
      links: persons.links.length,
      refused: persons.refused.slice(-20).map((r) => ({ a: name(r.link.a), b: name(r.link.b), at: r.link.firstAt })),
      refusedCount: persons.refused.length,
      placeholders: [...placeholders].map(([i, messages]) => ({ ...table.nodes[i]!, messages })).sort((a, b) => b.messages - a.messages).slice(0, 20),
      orphans,
      userIds: perKind.get('user') ?? 0,
    } satisfies IdentityReport);
  });

/** `POST /api/identity`: writes identifiers, links and persons to their tables, for look-ups by SQL. */
export const materialise = (request: Request): Promise<Response> =>
  answering(async () => {
    const body = await readJson(request, z.object({}));
    if (!body.ok) return body.response;
    const { plan } = await loadDraft(database());
    const table = await currentTable();
    const persons = currentPersons(table, settingsOf(plan).identity);
    const refused = new Map(persons.refused.map((r) => [r.link, r.why]));
    await storeIdentity(database(), {
      identifiers: table.nodes.map((n, i) => ({ ...n, person: persons.personOfNode[i]! })),
      links: persons.links.map((l) => ({ ...l, refused: refused.get(l) ?? null })),
    });
    return json({ identifiers: table.nodes.length, links: persons.links.length, persons: persons.count });
  });
