/** Plan documents, JSON or YAML, read back. */
import { parse, stringify } from 'yaml';
import { completedPlan } from '../plan/defaults';
import { editsBetween } from '../plan/diff';
import { parsePlan, planDocumentSchema, type Parsed } from '../plan/document-schema';
import type { Edit } from '../plan/edit';
import type { Plan } from '../plan/plan';
import { outcomeOf, plural, type How, type Outcome, type ReadOptions } from './format';
import { PLAN_FORMAT } from './plan-json';

/** The document as YAML 1.2. */
export const planYaml = (plan: Plan, version: number, contentHash: string): string =>
  stringify({ format: PLAN_FORMAT, version, contentHash, plan }, { lineWidth: 120, aliasDuplicateObjects: false });

/** The JSON Schema of a plan document.
 *  Source: JSON Schema 2020-12.
 */
export const planSchema = (): Record<string, unknown> => ({
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  title: 'Signal Post plan',
  type: 'object',
  required: ['format', 'plan'],
  properties: {
    format: { const: PLAN_FORMAT },
    version: { type: 'integer', minimum: 0, description: '0 for a draft.' },
    contentHash: { type: 'string', pattern: '^[0-9a-f]{64}$' },
    plan: planDocumentSchema(),
  },
});

const OUTSIDE_OF_TEXTS = /"(?:[^"\\]|\\.)*"|\s+/g;

/** The value of a text that is JSON and in which no key is twice, which a reader of YAML takes forty times as long to find; `undefined` for any other.
 *  Written again without blanks, a document in which something was said twice is shorter.
 */
export const plainJson = (text: string): unknown => {
  if (!text.trimStart().startsWith('{')) return undefined;
  try {
    const value: unknown = JSON.parse(text);
    const bare = text.replace(OUTSIDE_OF_TEXTS, (m) => (m.startsWith('"') ? m : ''));
    return JSON.stringify(value).length === bare.length ? value : undefined;
  } catch {
    return undefined;
  }
};

/** A plan out of a document's text, JSON or YAML.
 *  Errors: what is wrong and where; nothing throws.
 */
export const readPlanDocument = (text: string): Parsed<Plan> => {
  let value: unknown;
  try {
    value = plainJson(text) ?? parse(text, { maxAliasCount: 100 });
  } catch (e) {
    return { ok: false, detail: `This is neither JSON nor YAML: ${(e as Error).message.split('\n')[0] ?? ''}` };
  }
  if (typeof value !== 'object' || value === null || !('plan' in value))
    return { ok: false, detail: `A plan document has the fields format (“${PLAN_FORMAT}”) and plan.` };
  const { format, plan } = value as { format?: unknown; plan: unknown };
  if (format !== PLAN_FORMAT) return { ok: false, detail: `The format is “${String(format)}”; “${PLAN_FORMAT}” is read.` };
  if (typeof plan !== 'object' || plan === null) return { ok: false, detail: 'The field plan holds no plan.' };
  let whole: Plan;
  try {
    whole = completedPlan(plan as Plan);
  } catch {
    return { ok: false, detail: 'The field plan does not have the shape of a plan.' };
  }
  return parsePlan(whole);
};

/** The edits that bring a document into a plan: `replace all` makes the plan say what the document says, `replace` leaves the
 *  settings as they are, `add` also what the document does not speak of.
 */
export const importPlan = (plan: Plan, document: Plan, how: How): Edit[] => {
  const edits = editsBetween(plan, document);
  if (how === 'replace all') return edits.filter((e) => e.op !== 'remove' || e.kind !== 'settings');
  return edits.filter((e) => e.kind !== 'settings' && (how === 'replace' || e.op !== 'remove'));
};

/** What a document would do, JSON or YAML. */
export const planDocument = (plan: Plan, text: string, { how }: Pick<ReadOptions, 'how'>): Outcome => {
  const read = readPlanDocument(text);
  if (!read.ok) return outcomeOf([], [{ where: 'document', detail: read.detail }], '');
  const edits = importPlan(plan, read.value, how);
  return outcomeOf(edits, [], `${plural(edits.length, 'edit')}.`);
};
