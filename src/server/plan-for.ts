/** The plan that a download is made of. */
import type { WrittenPlan } from '../core/formats/format';
import { contentHash } from '../core/plan/content-hash';
import { loadVersion } from '../db/plan-store';
import { problem } from './answer';
import { database } from './context';
import { currentDraft } from './draft';
import { newestVersion } from './published';

/** A plan to export: `version` a number, `draft`, or nothing for the newest version; an answer where there is none. */
export const planFor = async (version: string | undefined): Promise<WrittenPlan | Response> => {
  if (version === 'draft') {
    const { plan } = await currentDraft();
    return { plan, number: 0, contentHash: contentHash(plan) };
  }
  const found = version === undefined ? await newestVersion() : await loadVersion(database(), Number(version) || 0);
  return (
    found ??
    problem(
      404,
      'no such version',
      version === undefined ? 'Nothing is published yet; ask for version=draft.' : `Version ${version} does not exist.`,
    )
  );
};
