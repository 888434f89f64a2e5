/** Persons of the recorded messages, under each counting basis. */
import { z } from 'zod';
import { identityReport } from '../core/identity/report';
import { settingsOf } from '../core/plan/plan';
import { currentDraft } from './draft';
import { storeIdentity } from '../db/identity-store';
import { answering, json, readJson } from './answer';
import { currentPersons, currentTable } from './columns';
import { database } from './context';

export const identity = (): Promise<Response> =>
  answering(async () => {
    const { plan } = await currentDraft();
    const rules = settingsOf(plan).identity;
    const table = await currentTable();
    return json(identityReport(table, rules, currentPersons(table, rules)));
  });

/** Writes identifiers, links and persons of the draft's rules to their tables, for look-ups by SQL; how many of each. */
export const storeCurrentIdentity = async (): Promise<{ identifiers: number; links: number; persons: number }> => {
  const { plan } = await currentDraft();
  const table = await currentTable();
  const persons = currentPersons(table, settingsOf(plan).identity);
  const refused = new Map(persons.refused.map((r) => [r.link, r.why]));
  await storeIdentity(database(), {
    identifiers: table.nodes.map((n, i) => ({ ...n, person: persons.personOfNode[i]! })),
    links: persons.links.map((l) => ({ ...l, refused: refused.get(l) ?? null })),
  });
  return { identifiers: table.nodes.length, links: persons.links.length, persons: persons.count };
};

/** `POST /api/identity`: the same now, without publishing. */
export const materialise = (request: Request): Promise<Response> =>
  answering(async () => {
    const body = await readJson(request, z.object({}));
    return body.ok ? json(await storeCurrentIdentity()) : body.response;
  });
