/** Downloads: the plan, and the schema of an event. */
import { eventSchema } from '../core/formats/json-schema';
import { planJson } from '../core/formats/plan-json';
import { contentHash } from '../core/plan/content-hash';
import { loadDraft, loadVersion } from '../db/plan-store';
import { answering, problem } from './answer';
import { database } from './context';
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

/** The plan as JSON: `version` a number, `draft`, or nothing for the newest version. */
export const planFile = (version: string | null): Promise<Response> =>
  answering(async () => {
    if (version === 'draft') {
      const { plan } = await loadDraft(database());
      return file(planJson(plan, 0, contentHash(plan)), 'plan-draft.json', 'application/json');
    }
    const found = version === null ? await newestVersion() : await loadVersion(database(), Number(version) || 0);
    if (!found)
      return problem(
        404,
        'no such version',
        version === null ? 'Nothing is published yet; ask for version=draft.' : `Version ${version} does not exist.`,
      );
    return file(planJson(found.plan, found.number, found.contentHash), `plan-v${found.number}.json`, 'application/json');
  });

/** JSON Schema of an event, from the newest version; from the draft for an event that is not published yet. */
export const schemaFile = (eventId: string): Promise<Response> =>
  answering(async () => {
    const version = await newestVersion();
    const plan = version?.plan.event[eventId] ? version.plan : (await loadDraft(database())).plan;
    const event = plan.event[eventId];
    if (!event) return problem(404, 'no such event', 'The plan has no event of this id.');
    return file(`${JSON.stringify(eventSchema(plan, event), null, 2)}\n`, `${slug(event.name)}.schema.json`, 'application/schema+json');
  });
