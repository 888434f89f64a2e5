/** Downloads: the plan, and the schema of an event. */
import { eventSchema } from '../core/formats/json-schema';
import { planCsv } from '../core/formats/plan-csv';
import { planSchema, planYaml } from '../core/formats/plan-document';
import { planJson } from '../core/formats/plan-json';
import { planMarkdown } from '../core/formats/plan-markdown';
import { threeLevelNames, writeThreeLevel } from '../core/formats/three-level';
import type { Plan } from '../core/plan/plan';
import { contentHash } from '../core/plan/content-hash';
import { loadVersion } from '../db/plan-store';
import { answering, problem } from './answer';
import { database } from './context';
import { currentDraft } from './draft';
import { newestVersion } from './published';

const file = (text: string, name: string, type: string): Response =>
  new Response(text, {
    headers: { 'content-type': type, 'content-disposition': `attachment; filename="${name}"`, 'cache-control': 'no-store' },
  });

const slug = (name: string): string =>
  name
    .normalize('NFKD')
    .replace(/[^A-Za-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')
    .toLowerCase() || 'event';

interface Found {
  readonly plan: Plan;
  readonly number: number;
  readonly contentHash: string;
}

/** A plan to take away: `version` a number, `draft`, or nothing for the newest version; an answer where there is none. */
const planFor = async (version: string | null): Promise<Found | Response> => {
  if (version === 'draft') {
    const { plan } = await currentDraft();
    return { plan, number: 0, contentHash: contentHash(plan) };
  }
  const found = version === null ? await newestVersion() : await loadVersion(database(), Number(version) || 0);
  return (
    found ??
    problem(
      404,
      'no such version',
      version === null ? 'Nothing is published yet; ask for version=draft.' : `Version ${version} does not exist.`,
    )
  );
};

const FORMATS: Readonly<Record<string, { type: string; ending: string; write: (f: Found) => string }>> = {
  json: { type: 'application/json', ending: 'json', write: (f) => planJson(f.plan, f.number, f.contentHash) },
  yaml: { type: 'application/yaml', ending: 'yaml', write: (f) => planYaml(f.plan, f.number, f.contentHash) },
  csv: { type: 'text/csv; charset=utf-8', ending: 'csv', write: (f) => planCsv(f.plan) },
  md: { type: 'text/markdown; charset=utf-8', ending: 'md', write: (f) => planMarkdown(f.plan, f.number) },
  names: { type: 'text/plain; charset=utf-8', ending: 'txt', write: (f) => writeThreeLevel(threeLevelNames(f.plan)) },
};

/** `GET /api/plan-file?format=&version=`: the plan in one of the formats; `schema` is the JSON Schema of the JSON document. */
export const planFile = (version: string | null, format: string): Promise<Response> =>
  answering(async () => {
    if (format === 'schema')
      return file(`${JSON.stringify(planSchema(), null, 2)}\n`, 'signal-post-plan.schema.json', 'application/schema+json');
    const chosen = Object.hasOwn(FORMATS, format) ? FORMATS[format] : undefined;
    if (!chosen) return problem(400, 'no such format', `The plan is given as ${Object.keys(FORMATS).join(', ')} or schema.`);
    const found = await planFor(version);
    if (found instanceof Response) return found;
    return file(chosen.write(found), `plan-${found.number === 0 ? 'draft' : `v${found.number}`}.${chosen.ending}`, chosen.type);
  });

/** JSON Schema of an event, from the newest version; from the draft for an event that is not published yet. */
export const schemaFile = (eventId: string): Promise<Response> =>
  answering(async () => {
    const version = await newestVersion();
    const isIn = (p: Plan | undefined): p is Plan => p !== undefined && Object.hasOwn(p.event, eventId);
    const plan = isIn(version?.plan) ? version.plan : (await currentDraft()).plan;
    const event = isIn(plan) ? plan.event[eventId] : undefined;
    if (!event) return problem(404, 'no such event', 'The plan has no event of this id.');
    return file(`${JSON.stringify(eventSchema(plan, event), null, 2)}\n`, `${slug(event.name)}.schema.json`, 'application/schema+json');
  });
