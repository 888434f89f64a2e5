/** Models of the events in other languages, made by quicktype from the plan's schema. It takes a while, so it is here and not on the thread of requests. */
import { createHash } from 'node:crypto';
import { strToU8, zipSync } from 'fflate';
import { models, type LANGUAGES } from '../core/api/models';
import { modelSchemas } from '../core/formats/code/model-schema';
import type { WrittenPlan } from '../core/formats/format';
import { entityOf, settingsOf, type Id } from '../core/plan/plan';
import { problem } from '../server/answer';
import { planFor } from '../server/plan-for';
import { serve } from '../server/serve';

type Language = (typeof LANGUAGES)[number];

const PACKAGE = 'plan';

/** What a file of this version is called. */
const nameOf = (number: number): string => `plan-${number === 0 ? 'draft' : `v${number}`}`;

/** How a line of comment begins, and what quicktype is told: with what keeps each name as it goes over the wire. */
const HOW: Readonly<
  Record<Language, { readonly comment: string; readonly ending: string; readonly options: Readonly<Record<string, string>> }>
> = {
  kotlin: { comment: '//', ending: 'kt', options: { framework: 'kotlinx', package: 'plan' } },
  swift: { comment: '//', ending: 'swift', options: {} },
  python: { comment: '#', ending: 'py', options: { 'python-version': '3.7' } },
  java: { comment: '//', ending: 'java', options: { package: PACKAGE } },
  go: { comment: '//', ending: 'go', options: { package: 'plan' } },
  csharp: { comment: '//', ending: 'cs', options: { framework: 'SystemTextJson', features: 'attributes-only', namespace: 'Plan' } },
};

/** Models of a plan in one language.
 *  Shape: texts by the path of their file: one, but in Java one for each public class, in the directory of its package. The first lines of each carry the
 *  version and the hash. The same plan gives the same texts, in the same order.
 */
export const modelsOf = async (
  { plan, number, contentHash }: WrittenPlan,
  language: Language,
  sourceId?: Id,
): Promise<ReadonlyMap<string, string>> => {
  const { InputData, JSONSchemaInput, FetchingJSONSchemaStore, quicktypeMultiFile } = await import('quicktype-core');
  class NoFetching extends FetchingJSONSchemaStore {
    override fetch(): Promise<undefined> {
      return Promise.resolve(undefined);
    }
  }
  const { comment, options, ending } = HOW[language];
  const head = [
    `Models for ${number > 0 ? `version ${number}` : 'the draft'} of the tracking plan “${settingsOf(plan).name.replaceAll(/[\r\n\u2028\u2029]/g, ' ')}”. Generated: change the plan, not this file.`,
    `Plan ${contentHash}`,
  ];
  const schemas = modelSchemas(plan, sourceId);
  const heading = `${head.map((l) => `${comment} ${l}\n`).join('')}\n`;
  const name = `${nameOf(number)}.${ending}`;
  if (schemas.length === 0) return new Map([[name, heading]]);
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
  return new Map(
    names.map((own) => [language === 'java' ? `${PACKAGE}/${own}` : name, `${heading}${files.get(own)!.lines.join('\n').trimEnd()}\n`]),
  );
};

/** Several files as one. Source: ZIP, by fflate. The times in it are always the same, so that the same files are the same bytes. */
const zipped = (files: ReadonlyMap<string, string>): Uint8Array<ArrayBuffer> =>
  zipSync(Object.fromEntries([...files].map(([path, text]) => [path, strToU8(text)])), { mtime: ZIP_EPOCH });

/** The first time that a ZIP can say. Source: its dates are those of MS-DOS, which begin in 1980. */
const ZIP_EPOCH = new Date(1980, 0, 1);

export const MODELS = [
  serve(models, async ({ query }) => {
    const found = await planFor(query.version);
    if (found instanceof Response) return found;
    if (query.source !== undefined && !entityOf(found.plan, 'source', query.source))
      return problem(404, 'no such source', `The plan has no source “${query.source}”.`);
    const files = await modelsOf(found, query.language, query.source);
    const [[path, text]] = [...files] as [[string, string]];
    const isOne = files.size === 1 && !path.includes('/');
    const body = isOne ? text : zipped(files);
    return new Response(body, {
      headers: {
        'content-type': isOne ? 'text/plain; charset=utf-8' : 'application/zip',
        etag: `"${createHash('sha256').update(body).digest('hex').slice(0, 32)}"`,
        'content-disposition': `attachment; filename="${isOne ? path : `${nameOf(found.number)}-${query.language}.zip`}"`,
        'cache-control': 'no-store',
      },
    });
  }),
];
