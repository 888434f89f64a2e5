/** Models of the events in other languages, made by quicktype from the plan's schema. It takes a while, so it is here and not on the thread of requests. */
import { createHash } from 'node:crypto';
import { models, type LANGUAGES } from '../core/api/models';
import { modelSchemas } from '../core/formats/code/model-schema';
import type { WrittenPlan } from '../core/formats/format';
import { entityOf, settingsOf, type Id } from '../core/plan/plan';
import { problem } from '../server/answer';
import { planFor } from '../server/plan-for';
import { serve } from '../server/serve';

type Language = (typeof LANGUAGES)[number];

/** How a line of comment begins, and what quicktype is told: with what keeps each name as it goes over the wire. */
const HOW: Readonly<
  Record<Language, { readonly comment: string; readonly ending: string; readonly options: Readonly<Record<string, string>> }>
> = {
  kotlin: { comment: '//', ending: 'kt', options: { framework: 'kotlinx', package: 'plan' } },
  swift: { comment: '//', ending: 'swift', options: {} },
  python: { comment: '#', ending: 'py', options: { 'python-version': '3.7' } },
  java: { comment: '//', ending: 'java', options: { package: 'plan' } },
  go: { comment: '//', ending: 'go', options: { package: 'plan' } },
  csharp: { comment: '//', ending: 'cs', options: { framework: 'SystemTextJson', features: 'attributes-only', namespace: 'Plan' } },
};

/** Models of a plan in one language.
 *  Shape: one text; in Java, which wants a file for each public class, the files one after the other, each under a line that says its name.
 *  Its first lines carry the version and the hash. The same plan gives the same text.
 */
export const modelsOf = async ({ plan, number, contentHash }: WrittenPlan, language: Language, sourceId?: Id): Promise<string> => {
  const { InputData, JSONSchemaInput, FetchingJSONSchemaStore, quicktypeMultiFile } = await import('quicktype-core');
  class NoFetching extends FetchingJSONSchemaStore {
    override fetch(): Promise<undefined> {
      return Promise.resolve(undefined);
    }
  }
  const { comment, options } = HOW[language];
  const head = [
    `Models for ${number > 0 ? `version ${number}` : 'the draft'} of the tracking plan “${settingsOf(plan).name.replaceAll(/[\r\n\u2028\u2029]/g, ' ')}”. Generated: change the plan, not this file.`,
    `Plan ${contentHash}`,
  ];
  const schemas = modelSchemas(plan, sourceId);
  const heading = `${head.map((l) => `${comment} ${l}\n`).join('')}\n`;
  if (schemas.length === 0) return heading;
  const input = new JSONSchemaInput(new NoFetching());
  for (const { name, schema } of schemas) await input.addSource({ name, schema });
  const data = new InputData();
  data.addInput(input);
  const files = await quicktypeMultiFile({
    inputData: data,
    lang: language,
    rendererOptions: options,
    leadingComments: [],
    combineClasses: false,
    inferEnums: true,
  });
  // What reads and writes whole files is left to whoever takes the models; it would ask for one version of one package.
  const names = [...files.keys()].filter((n) => n !== 'Converter.java').sort();
  return `${heading}${names
    .map((name) => `${names.length > 1 ? `${comment} ---- ${name}\n` : ''}${files.get(name)!.lines.join('\n').trimEnd()}\n`)
    .join('\n')}`;
};

export const MODELS = [
  serve(models, async ({ query }) => {
    const found = await planFor(query.version);
    if (found instanceof Response) return found;
    if (query.source !== undefined && !entityOf(found.plan, 'source', query.source))
      return problem(404, 'no such source', `The plan has no source “${query.source}”.`);
    const text = await modelsOf(found, query.language, query.source);
    const { ending } = HOW[query.language];
    return new Response(text, {
      headers: {
        'content-type': 'text/plain; charset=utf-8',
        etag: `"${createHash('sha256').update(text).digest('hex').slice(0, 32)}"`,
        'content-disposition': `attachment; filename="plan-${found.number === 0 ? 'draft' : `v${found.number}`}.${ending}"`,
        'cache-control': 'no-store',
      },
    });
  }),
];
