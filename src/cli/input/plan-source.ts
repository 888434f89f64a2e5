/** A plan: a file, a folder, or an address of a running Signal Post. */
import { isMap, isPair, isScalar, LineCounter, parseDocument, type Document } from 'yaml';
import { join } from 'node:path';
import { plainJson, readPlanDocument } from '../../core/formats/plan-document';
import { FILE_OF, planOfFolder, writtenFolder, type FolderFile } from '../../core/formats/plan-folder';
import { PLAN_FORMAT } from '../../core/formats/plan-json';
import { contentHash } from '../../core/plan/content-hash';
import type { Plan } from '../../core/plan/plan';
import type { Place } from '../../core/report/report';
import { unreadable } from '../trouble';
import { filesUnder, isFolder, readText } from './text-files';

export interface GivenPlan {
  readonly plan: Plan;
  readonly number: number;
  readonly contentHash: string;
  readonly title: string;
  /** Where an entity, or a field of it, is written. */
  placeOf(path: readonly (string | number)[]): Place | undefined;
}

/** The texts of a folder of a plan. */
export const folderFiles = (folder: string): FolderFile[] =>
  filesUnder(folder)
    .filter((f) => /\.ya?ml$/.test(f))
    .map((path) => ({ path, text: readText(join(folder, path)) }));

const located = (file: string, text: string): ((path: readonly (string | number)[]) => Place | undefined) => {
  let parsed: { readonly doc: Document; readonly lines: LineCounter } | undefined;
  return (path) => {
    if (!parsed) {
      const lines = new LineCounter();
      parsed = { doc: parseDocument(text, { lineCounter: lines, uniqueKeys: false }) as unknown as Document, lines };
    }
    // The key of the deepest part that is there.
    let node: unknown = parsed.doc.contents;
    let at: number | undefined;
    for (const part of path) {
      if (!isMap(node)) break;
      const pair = node.items.find((p) => isPair(p) && isScalar(p.key) && String(p.key.value) === String(part));
      if (!pair || !isScalar(pair.key)) break;
      at = pair.key.range?.[0] ?? at;
      node = pair.value;
    }
    if (at === undefined) return undefined;
    const { line, col } = parsed.lines.linePos(at);
    return { file, line, column: col };
  };
};

const ofFolder = (folder: string): GivenPlan => {
  const files = folderFiles(folder);
  const read = planOfFolder(files);
  if (!read.ok)
    throw unreadable(folder, read.problems.map((p) => `${p.file}${p.line === undefined ? '' : `:${p.line}`}: ${p.detail}`).join('\n'));
  const byId = new Map(
    files
      .filter((f) => f.path.startsWith('events/'))
      .map(
        (f) =>
          [
            /^id: (.+)$/m
              .exec(f.text)?.[1]
              ?.trim()
              .replaceAll(/^["']|["']$/g, ''),
            f,
          ] as const,
      ),
  );
  return {
    ...writtenFolder(read),
    title: folder,
    placeOf([kind, id, ...rest]) {
      if (kind === 'event') {
        const file = byId.get(String(id));
        return (
          file && (located(join(folder, file.path), file.text)(rest.length > 0 ? rest : ['name']) ?? { file: join(folder, file.path) })
        );
      }
      const path = FILE_OF[kind as keyof typeof FILE_OF] as string | undefined;
      const text = files.find((f) => f.path === path)?.text;
      return path === undefined || text === undefined ? undefined : located(join(folder, path), text)([id ?? '', ...rest]);
    },
  };
};

/** The newest format that is known, and what a document says it is. */
const isNewer = (format: unknown): boolean => {
  const [name, number] = PLAN_FORMAT.split('/');
  const [given, its] = String(format).split('/');
  return given === name && Number(its) > Number(number);
};

const ofText = (title: string, text: string): GivenPlan => {
  if (text.trim() === '') throw unreadable(title, 'the file is empty.');
  const format = /["']?format["']?\s*:\s*["']?([^"'\s,]+)/.exec(text.slice(0, 500))?.[1];
  if (isNewer(format))
    throw unreadable(
      title,
      `its format is “${format}”, which is newer than this program; download the program anew from the server that wrote it.`,
    );
  const json = plainJson(text);
  const twice = json === undefined ? parseDocument(text, { uniqueKeys: true }).errors[0] : undefined;
  if (twice) {
    const at = twice.linePos?.[0];
    const end = at !== undefined && at.line >= text.trimEnd().split('\n').length ? ' Is the file cut off?' : '';
    throw unreadable(
      title,
      `line ${at?.line ?? '?'}, column ${at?.col ?? '?'}: ${twice.message.split('\n')[0]!.replace(/ at line .*$/, '')}.${end}`,
    );
  }
  const read = readPlanDocument(text);
  if (!read.ok) throw unreadable(title, read.detail);
  const head = (json ?? parseDocument(text).toJS()) as { version?: unknown };
  const place = located(title, text);
  return {
    plan: read.value,
    number: typeof head.version === 'number' ? head.version : 0,
    contentHash: contentHash(read.value),
    title,
    placeOf: (path) => place(['plan', ...path]),
  };
};

export const isAddress = (text: string): boolean => /^https?:\/\//.test(text);

/** The text behind an address. Errors: what the server said, or that there is none. */
export const fetched = async (address: string, how?: RequestInit): Promise<string> => {
  let response: Response;
  try {
    response = await fetch(address, how);
  } catch (e) {
    const { cause } = e as { cause?: { code?: string } };
    throw unreadable(address, `it cannot be reached (${cause?.code ?? (e as Error).message}).`);
  }
  const text = await response.text();
  if (response.ok) return text;
  let said = text.slice(0, 500);
  try {
    said = (JSON.parse(text) as { detail?: string }).detail ?? said;
  } catch {
    // Then it is shown as it came.
  }
  throw unreadable(address, `it answered ${response.status}. ${said}`);
};

/** A plan by its path or address; an address of a Signal Post alone means its newest version. */
export const readPlan = async (where: string): Promise<GivenPlan> => {
  if (isAddress(where)) {
    const url = new URL(where);
    const address = url.pathname === '/' ? new URL('/api/plan.json', url).href : where;
    return ofText(where, await fetched(address));
  }
  return isFolder(where) ? ofFolder(where) : ofText(where, readText(where));
};
