/** A plan as a folder beside the code: a file for each event, in a stable order, so that a review shows what changed and nothing else. */
import { isScalar, isSeq, parseDocument, visit, Document } from 'yaml';
import { completedPlan } from '../plan/defaults';
import { contentHash, fingerprint } from '../plan/content-hash';
import { parsePlan } from '../plan/document-schema';
import { entries, KINDS, labelOf, type Id, type Kind, type Plan } from '../plan/plan';
import type { WrittenPlan } from './format';

export const FOLDER_FORMAT = 'signal-post-folder/1';
export const BASE_FILE = 'plan.yaml';

export interface FolderFile {
  /** With slashes, from the folder. */
  readonly path: string;
  readonly text: string;
}

/** What the folder was written from, and each file as it was written. */
export interface FolderBase {
  readonly version: number;
  readonly contentHash: string;
  readonly files: { readonly [path: string]: string };
}

/** Files of several entities; events have one each. */
export const FILE_OF: Readonly<Record<Exclude<Kind, 'event'>, string>> = {
  settings: 'settings.yaml',
  source: 'sources.yaml',
  question: 'questions.yaml',
  property: 'properties.yaml',
  sharedSet: 'shared-sets.yaml',
  userProperty: 'user-properties.yaml',
  identifierKind: 'identifier-kinds.yaml',
  definition: 'definitions.yaml',
  trial: 'trials.yaml',
};

const slug = (name: string): string =>
  name
    .normalize('NFKC')
    .toLowerCase()
    .replaceAll(/[^\p{L}\p{N}]+/gu, '-')
    .replaceAll(/^-|-$/g, '')
    .slice(0, 80) || 'event';

const byText = (a: string, b: string): number => (a < b ? -1 : a > b ? 1 : 0);

/** Names beside the IDs that a file speaks of, as comments. */
const withNames = (doc: Document, plan: Plan): void => {
  const nameOf: Readonly<Record<string, (id: Id) => string>> = {
    propertyId: (id) => labelOf('property', plan.property[id]),
    sourceId: (id) => labelOf('source', plan.source[id]),
  };
  const note = (node: { comment?: string | null | undefined }, name: string, id: string): void => {
    const line = name.replaceAll(/\s+/g, ' ').trim();
    if (line !== '' && line !== id) node.comment = ` ${line}`;
  };
  visit(doc, {
    Pair: (_, pair) => {
      const key = isScalar(pair.key) ? String(pair.key.value) : '';
      if (nameOf[key] && isScalar(pair.value)) note(pair.value, nameOf[key](String(pair.value.value)), String(pair.value.value));
      if (key === 'sharedSets' && isSeq(pair.value))
        for (const item of pair.value.items)
          if (isScalar(item)) note(item, labelOf('sharedSet', plan.sharedSet[String(item.value)]), String(item.value));
    },
  });
};

const yamlText = (value: unknown, plan: Plan): string => {
  const doc = new Document(value, { aliasDuplicateObjects: false });
  withNames(doc, plan);
  return doc.toString({ lineWidth: 120 });
};

/** The files of a plan, the base file last.
 *  Shape: paths are unlike each other on file systems that do not tell case, too.
 */
export const folderOf = ({ plan, number, contentHash: hash }: WrittenPlan): FolderFile[] => {
  const files: FolderFile[] = [];
  for (const kind of KINDS) {
    if (kind === 'event') continue;
    const all = entries(plan, kind).sort(([i, a], [j, b]) => byText(labelOf(kind, a), labelOf(kind, b)) || byText(i, j));
    if (all.length > 0 || kind === 'settings') files.push({ path: FILE_OF[kind], text: yamlText(Object.fromEntries(all), plan) });
  }
  const taken = new Set<string>();
  for (const [id, e] of entries(plan, 'event').sort(([i, a], [j, b]) => byText(a.name, b.name) || byText(i, j))) {
    const base = slug(e.name);
    let name = base;
    for (let n = 2; taken.has(name); n++) name = `${base}-${n}`;
    taken.add(name);
    files.push({ path: `events/${name}.yaml`, text: yamlText({ id, ...e }, plan) });
  }
  files.sort((a, b) => byText(a.path, b.path));
  const base: FolderBase & { readonly format: string } = {
    format: FOLDER_FORMAT,
    version: number,
    contentHash: hash,
    files: Object.fromEntries(files.map((f) => [f.path, fingerprint(f.text)])),
  };
  return [...files, { path: BASE_FILE, text: yamlText(base, plan) }];
};

export interface FolderProblem {
  readonly file: string;
  readonly line: number | undefined;
  readonly detail: string;
}

export type ReadFolder =
  | { readonly ok: true; readonly plan: Plan; readonly base: FolderBase }
  | { readonly ok: false; readonly problems: readonly FolderProblem[] };

/** A file’s value, or what is wrong with it and where. A key that is there twice is told: the first one would be lost. */
const readYaml = ({ path, text }: FolderFile): { readonly value: unknown } | FolderProblem[] => {
  const doc = parseDocument(text, { uniqueKeys: true });
  if (doc.errors.length > 0) return doc.errors.map((e) => ({ file: path, line: e.linePos?.[0].line, detail: e.message.split('\n')[0]! }));
  return { value: doc.toJS({ maxAliasCount: 100 }) as unknown };
};

const isRecord = (v: unknown): v is Record<string, unknown> => typeof v === 'object' && v !== null && !Array.isArray(v);

/** The base file alone; `undefined` where it is none. */
export const readBase = (text: string): FolderBase | undefined => {
  const read = readYaml({ path: BASE_FILE, text });
  if (Array.isArray(read) || !isRecord(read.value)) return undefined;
  const { format, version, contentHash: hash, files } = read.value;
  if (format !== FOLDER_FORMAT || typeof version !== 'number' || typeof hash !== 'string' || !isRecord(files)) return undefined;
  return { version, contentHash: hash, files: files as Record<string, string> };
};

/** A plan out of a folder.
 *  Errors: each file that cannot be read, with its line; a missing base file; two events of one ID. Nothing throws.
 */
export const planOfFolder = (files: readonly FolderFile[]): ReadFolder => {
  const problems: FolderProblem[] = [];
  const fail = (file: string, detail: string): void => void problems.push({ file, line: undefined, detail });
  const baseText = files.find((f) => f.path === BASE_FILE)?.text;
  const base = baseText === undefined ? undefined : readBase(baseText);
  if (!base)
    fail(
      BASE_FILE,
      baseText === undefined
        ? 'The folder has no plan.yaml, which says what version it was written from.'
        : `This is no ${FOLDER_FORMAT}; write the folder anew.`,
    );
  const plan: Record<string, Record<Id, unknown>> = Object.fromEntries(KINDS.map((k) => [k, {}]));
  const from = new Map<Id, string>();
  for (const file of files) {
    const kind = (Object.keys(FILE_OF) as (keyof typeof FILE_OF)[]).find((k) => FILE_OF[k] === file.path);
    const isEvent = /^events\/[^/]+\.ya?ml$/.test(file.path);
    if (kind === undefined && !isEvent) continue;
    const read = readYaml(file);
    if (Array.isArray(read)) {
      problems.push(...read);
      continue;
    }
    if (isEvent) {
      const { id, ...body } = isRecord(read.value) ? read.value : {};
      if (typeof id !== 'string' || id === '')
        fail(file.path, 'The event has no `id`. Give a new one an ID of its own, such as its name in lower case.');
      else if (from.has(id)) fail(file.path, `The ID “${id}” is also that of ${from.get(id)!}.`);
      else {
        from.set(id, file.path);
        plan['event']![id] = body;
      }
    } else if (isRecord(read.value ?? {})) plan[kind!] = (read.value ?? {}) as Record<Id, unknown>;
    else fail(file.path, 'The file maps IDs to entries.');
  }
  if (problems.length > 0 || !base) return { ok: false, problems };
  let whole: Plan;
  try {
    whole = completedPlan(plan as unknown as Plan);
  } catch {
    return { ok: false, problems: [{ file: '', line: undefined, detail: 'A file does not have the shape of a part of a plan.' }] };
  }
  const parsed = parsePlan(whole);
  if (!parsed.ok) {
    const id = /^event\.([^.]+)/.exec(parsed.detail)?.[1];
    return {
      ok: false,
      problems: [
        { file: (id === undefined ? undefined : from.get(id)) ?? fileOfKind(parsed.detail), line: undefined, detail: parsed.detail },
      ],
    };
  }
  return { ok: true, plan: parsed.value, base };
};

const fileOfKind = (detail: string): string => FILE_OF[detail.split('.')[0] as keyof typeof FILE_OF] ?? '';

/** Files of a folder that somebody edited since it was written: writing over them would lose that. */
export const editedSince = (base: FolderBase, files: readonly FolderFile[]): string[] =>
  files.filter((f) => f.path !== BASE_FILE && fingerprint(f.text) !== base.files[f.path]).map((f) => f.path);

/** The folder as a written plan: a draft where it says another plan than the version it was written from. */
export const writtenFolder = (read: Extract<ReadFolder, { ok: true }>): WrittenPlan => {
  const hash = contentHash(read.plan);
  return { plan: read.plan, number: hash === read.base.contentHash ? read.base.version : 0, contentHash: hash };
};
