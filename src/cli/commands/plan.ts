/** `lint`, `diff`, `usage`: what needs a plan and no messages. */
import { identifiers } from '../../core/formats/code/identifier';
import { entries, isLive } from '../../core/plan/plan';
import { diffReport, lintReport } from '../../core/report/plan-reports';
import type { Report } from '../../core/report/report';
import { usageOf } from '../../core/report/usage-report';
import { join } from 'node:path';
import { readPlan } from '../input/plan-source';
import { filesUnder, isFolder, readText } from '../input/text-files';
import { isSource, usedTexts } from '../input/used-texts';
import { sourceIdOf } from './events';

export const lintCommand = async (path: string): Promise<Report> => {
  const given = await readPlan(path);
  return lintReport(given.plan, given.title, given.placeOf);
};

export const diffCommand = async (from: string, to: string): Promise<Report> => {
  const [a, b] = [await readPlan(from), await readPlan(to)];
  return diffReport(a.plan, b.plan, [a.title, b.title], b.placeOf);
};

export interface UsageOptions {
  readonly source?: string | undefined;
  readonly calls: readonly string[];
}

export const usageCommand = async (path: string, sources: readonly string[], { source, calls }: UsageOptions): Promise<Report> => {
  const given = await readPlan(path);
  const usage = usageOf(given.plan, source === undefined ? undefined : sourceIdOf(given.plan, source));
  const sent = entries(given.plan, 'event').filter(([, e]) => e.name !== '' && isLive(e));
  const functions = new Map([...identifiers([...new Set(sent.map(([, e]) => e.name))].sort())].map(([name, { small }]) => [small, name]));
  const sends = new Set(calls);
  let files = 0;
  for (const where of sources)
    for (const file of isFolder(where)
      ? filesUnder(where)
          .filter(isSource)
          .map((f) => join(where, f))
      : [where]) {
      const text = readText(file);
      // The generated file names every event, and sends none.
      if (/^\/\/ Typed calls for .* of the tracking plan/.test(text)) continue;
      files++;
      const scan = usedTexts(file, text, sends);
      usage.add(scan.used);
      for (const c of scan.calls) {
        const name = functions.get(c.name);
        if (name !== undefined) usage.called(name, c.place);
      }
    }
  return usage.report(given.title, files);
};
