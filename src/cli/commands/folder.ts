/** `write` and `propose`: the plan as a folder beside the code, and a proposal made from it. */
import { existsSync, mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { BASE_FILE, editedSince, folderOf, planOfFolder, readBase } from '../../core/formats/plan-folder';
import { readPlanDocument } from '../../core/formats/plan-document';
import { mergeProposal, type MergeConflict } from '../../core/plan/merge';
import { editsBetween } from '../../core/plan/diff';
import { applyEdits } from '../../core/plan/edit';
import { labelOf, type Plan } from '../../core/plan/plan';
import { itemOf, pathOf } from '../../core/place-item';
import { fetched, folderFiles, isAddress, readPlan } from '../input/plan-source';
import { isFolder, readText } from '../input/text-files';
import { EXIT, misused, unreadable } from '../trouble';

/** Writes the folder. Files that somebody edited since it was written are never written over: they are named, and nothing is written. */
export const writeCommand = async (planPath: string, folder: string): Promise<{ readonly code: number; readonly text: string }> => {
  const given = await readPlan(planPath);
  const baseFile = join(folder, BASE_FILE);
  const known = existsSync(baseFile) ? readBase(readText(baseFile)) : undefined;
  const there = isFolder(folder) ? folderFiles(folder) : [];
  if (there.length > 0 && !known)
    throw misused(`${folder} has YAML files and no ${BASE_FILE}: it was not written by this program. Name an empty folder.`);
  const files = folderOf(given);
  const next = new Map(files.map((f) => [f.path, f.text]));
  // A file that says the same as what would be written loses nothing.
  const edited = known ? editedSince(known, there).filter((path) => next.get(path) !== there.find((f) => f.path === path)!.text) : [];
  if (edited.length > 0)
    return {
      code: EXIT.findings,
      text: `Nothing was written. Edited since the folder was written from ${known!.version > 0 ? `version ${known!.version}` : 'a draft'}:\n${edited.map((f) => `  ${join(folder, f)}\n`).join('')}Make a proposal of it first (signal-post-check propose ${folder} --to ADDRESS), or take the edits back.\n`,
    };
  let written = 0;
  for (const { path, text } of files) {
    const to = join(folder, path);
    if (there.some((f) => f.path === path && f.text === text)) continue;
    mkdirSync(dirname(to), { recursive: true });
    writeFileSync(to, text);
    written++;
  }
  const gone = there.filter((f) => !next.has(f.path) && known?.files[f.path] !== undefined);
  for (const { path } of gone) rmSync(join(folder, path));
  return { code: EXIT.clean, text: `${written} of ${files.length} files written to ${folder}, ${gone.length} removed.\n` };
};

const conflictText = (plan: Plan, c: MergeConflict): string => {
  const label = labelOf(c.kind, (plan[c.kind] as Record<string, unknown>)[c.id] ?? c.proposed ?? c.draft) || c.id;
  const said = (v: unknown): string => (v === undefined ? 'removed' : JSON.stringify(v).slice(0, 200));
  return `  ${c.kind} ${label}${c.field === undefined ? '' : `, ${c.field}`}\n    here:   ${said(c.proposed)}\n    there:  ${said(c.draft)}\n    before: ${said(c.base)}\n`;
};

export interface ProposeOptions {
  readonly to: string;
  readonly name: string;
  readonly note: string;
  readonly author: string;
}

const PIECE = 5000;

/** Opens a proposal with what the folder changes. What was changed differently in the meantime is shown, and nothing is proposed. */
export const proposeCommand = async (
  folder: string,
  { to, name, note, author }: ProposeOptions,
): Promise<{ readonly code: number; readonly text: string }> => {
  if (!isAddress(to)) throw misused(`--to is the address of a Signal Post, such as https://post.example.org; “${to}” is none.`);
  if (!isFolder(folder)) throw unreadable(folder, 'there is no such folder.');
  const read = planOfFolder(folderFiles(folder));
  if (!read.ok)
    throw unreadable(folder, read.problems.map((p) => `${p.file}${p.line === undefined ? '' : `:${p.line}`}: ${p.detail}`).join('\n'));
  const { version } = read.base;
  if (version === 0)
    throw misused(`${folder} was written from a draft. Publish, and write the folder from a version: a proposal is made on one.`);
  const documentAt = async (query: string): Promise<Plan> => {
    const document = readPlanDocument(await fetched(new URL(`/api/plan.json${query}`, to).href));
    if (!document.ok) throw unreadable(to, document.detail);
    return document.value;
  };
  const base = await documentAt(`?version=${version}`);
  if (editsBetween(base, read.plan).length === 0)
    return { code: EXIT.clean, text: `${folder} says what version ${version} says; there is nothing to propose.\n` };
  const now = await documentAt('');
  const merge = mergeProposal(base, read.plan, now);
  if (merge.conflicts.length > 0)
    return {
      code: EXIT.findings,
      text: `Nothing was proposed: changed here and, differently, in a version since ${version}:\n${merge.conflicts.map((c) => conflictText(now, c)).join('')}Write the folder anew in another place, carry your changes over, and propose that.\n`,
    };
  if (merge.edits.length === 0) return { code: EXIT.clean, text: 'All of it is in the newest version already.\n' };
  const fit = applyEdits(now, merge.edits);
  if (!fit.ok) throw unreadable(folder, `its changes do not fit the newest version (${fit.problem.kind} ${fit.problem.id}).`);
  const post = async (path: string, body: unknown): Promise<string> =>
    fetched(new URL(path, to).href, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });
  const { id } = JSON.parse(await post('/api/proposals', { name, note, author })) as { id: string };
  for (let i = 0; i < merge.edits.length; i += PIECE)
    await post('/api/edits', { edits: merge.edits.slice(i, i + PIECE), label: `From ${folder}`, author, proposal: id });
  const draft = await documentAt('?version=draft');
  const pending = mergeProposal(now, fit.plan, draft).conflicts;
  const link = new URL(pathOf('plan', itemOf('proposal', id)), to).href;
  const beside =
    pending.length === 0
      ? ''
      : `The draft changes some of it differently; whoever accepts decides:\n${pending.map((c) => conflictText(draft, c)).join('')}`;
  return {
    code: EXIT.clean,
    text: `Proposed ${merge.edits.length} ${merge.edits.length === 1 ? 'change' : 'changes'}: ${link}\n${beside}`,
  };
};
