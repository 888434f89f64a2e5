/** Persons of the recorded messages, under each counting basis. */
import { z } from 'zod';
import { identityReport } from '../core/identity/report';
import { identityHealth } from '../core/identity/health';
import { personGraph } from '../core/identity/person-graph';
import { stepsOf } from '../core/identity/own-cases';
import { rehearse } from '../core/identity/rehearsal';
import { personOfIdentifier } from '../core/arrival/logbook';
import { situations } from '../core/identity/situations';
import { whatIf } from '../core/identity/what-if';
import { parseBody } from '../core/plan/document-schema';
import { settingsOf, type Settings } from '../core/plan/plan';
import { personRulesOf } from '../core/identity/person-rules';
import { storeIdentity } from '../db/identity-store';
import { answering, json, problem, readJson, steps } from '../server/answer';
import { database } from '../server/context';
import { chosenScope, draftScope, publishedScope } from './scope';

/** `GET /api/identity`: persons under the version in force, or with `?rules=draft` under the draft. */
export const identity = (url: URL): Promise<Response> =>
  answering(async () => {
    const { persons } = await chosenScope(url);
    return json(identityReport(persons));
  });

/** `GET /api/identity-health?base=…`: the figures of persons, under the version in force or the draft; `base` is the event that containment starts from. */
export const health = (url: URL): Promise<Response> =>
  answering(async () => {
    const { plan, persons } = await chosenScope(url);
    return json(identityHealth(plan, persons, Date.now(), url.searchParams.get('base') ?? ''));
  });

/** `GET /api/situations`: what each source is expected to send in each situation, and what it sends. */
export const situationTable = (url: URL): Promise<Response> =>
  answering(async () => {
    const { plan, table } = await chosenScope(url);
    return json(situations(plan, table));
  });

/** `GET /api/person?kind=…&value=…`: the identifiers of one person and the links that join them. */
export const person = (url: URL): Promise<Response> =>
  answering(async () => {
    const { table, persons } = await chosenScope(url);
    const [kind, value] = [url.searchParams.get('kind') ?? '', url.searchParams.get('value') ?? ''];
    const node = table.findNode(kind, value);
    if (node < 0) return problem(404, 'unknown identifier', `No message carries the ${kind} ID “${value.slice(0, 300)}”.`);
    return json(personGraph(persons, node));
  });

/** `GET /api/person-case?kind=…&value=…`: what one person sent, as steps of a bench case with identifiers renamed, and how many persons
 *  they come to.
 */
export const personCase = (url: URL): Promise<Response> =>
  answering(async () => {
    const { plan, persons } = await chosenScope(url);
    const { identity: rules } = settingsOf(plan);
    const [kind, value] = [url.searchParams.get('kind') ?? '', url.searchParams.get('value') ?? ''];
    const own = personOfIdentifier(persons, kind, value);
    if (own < 0) return problem(404, 'nobody', `The ${kind} ID “${value.slice(0, 300)}” stands for nobody.`);
    const taken = stepsOf(persons, own);
    return json({ steps: taken, persons: rehearse(taken, taken.length, rules).persons.length });
  });

/** `POST /api/what-if`: persons and figures under the rules in force and under those given, as lines of JSON with progress. */
export const tryRules = (request: Request): Promise<Response> =>
  answering(async () => {
    const body = await readJson(request, z.object({ identity: z.unknown() }));
    if (!body.ok) return body.response;
    const { plan, table, version } = await draftScope(new URL(request.url));
    const parsed = parseBody('settings', { ...settingsOf(plan), identity: body.value.identity });
    if (!parsed.ok) return problem(400, 'rules refused', parsed.detail);
    const after = personRulesOf(plan, (parsed.value as Settings).identity);
    const before = version ? personRulesOf(version.plan) : after;
    return steps(whatIf(plan, table, before, after, Date.now()), request.signal);
  });

/** Writes identifiers, links and persons under the version in force to their tables, for look-ups by SQL; how many of each. */
export const storeCurrentIdentity = async (): Promise<{ identifiers: number; links: number; persons: number }> => {
  const { table, persons } = publishedScope();
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
