/** Downloads: the plan, and the schema of an event. */
import { planFile } from '../core/api/plan-file';
import { planJson } from '../core/api/plan-json';
import { eventSchemaFile } from '../core/api/schema';
import { typedCalls } from '../core/api/typed-calls';
import { typescriptOf } from '../core/formats/code/typescript';
import { eventSchema } from '../core/formats/json-schema';
import { written } from '../core/formats/plan/index';
import { DEFAULT_SETTINGS } from '../core/plan/defaults';
import { emptyPlan, entityOf, type Plan } from '../core/plan/plan';
import { problem } from './answer';
import { serve } from './serve';
import { currentDraft } from './draft';
import { planFor } from './plan-for';
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

const fileOf = async (version: string | undefined, format: string): Promise<Response> => {
  const { write, file: as, isFixed } = written.find((f) => f.id === format) ?? {};
  if (!write || !as) return problem(400, 'no such format', `The plan is given as ${written.map((f) => f.id).join(', ')}.`);
  if (isFixed)
    return file(write({ plan: emptyPlan(DEFAULT_SETTINGS), number: 0, contentHash: '' }), `signal-post-plan.${as.ending}`, as.type);
  const found = await planFor(version);
  if (found instanceof Response) return found;
  return file(write(found), `plan-${found.number === 0 ? 'draft' : `v${found.number}`}.${as.ending}`, as.type);
};

export const EXPORTS = [
  serve(typedCalls, async ({ query }) => {
    const found = await planFor(query.version);
    if (found instanceof Response) return found;
    if (query.source !== undefined && !entityOf(found.plan, 'source', query.source))
      return problem(404, 'no such source', `The plan has no source “${query.source}”.`);
    const of = query.source === undefined ? '' : `-${slug(query.source)}`;
    return file(
      typescriptOf(found, query.source),
      `plan${of}-${found.number === 0 ? 'draft' : `v${found.number}`}.ts`,
      'text/plain; charset=utf-8',
    );
  }),
  serve(planFile, ({ query }) => fileOf(query.version, query.format)),
  serve(planJson, ({ query }) => fileOf(query.version, 'json')),
  // From the newest version; from the draft for an event that is not published yet.
  serve(eventSchemaFile, async ({ query: { event: eventId } }) => {
    const version = await newestVersion();
    const isIn = (p: Plan | undefined): p is Plan => p !== undefined && Object.hasOwn(p.event, eventId);
    const plan = isIn(version?.plan) ? version.plan : (await currentDraft()).plan;
    const event = isIn(plan) ? entityOf(plan, 'event', eventId) : undefined;
    if (!event) return problem(404, 'no such event', 'The plan has no event of this id.');
    return file(`${JSON.stringify(eventSchema(plan, event), null, 2)}\n`, `${slug(event.name)}.schema.json`, 'application/schema+json');
  }),
];
