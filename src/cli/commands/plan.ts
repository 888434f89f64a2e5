/** `lint`, `diff`, `usage`: what needs a plan and no messages. */
import picomatch from 'picomatch';
import { plural } from '../../core/formats/format';
import { identifiers } from '../../core/formats/code/identifier';
import { entries, isLive } from '../../core/plan/plan';
import { diffReport, lintReport } from '../../core/report/plan-reports';
import type { Report } from '../../core/report/report';
import { usageOf } from '../../core/report/usage-report';
import { join } from 'node:path';
import { readPlan } from '../input/plan-source';
import { filesUnder, isFolder, readText } from '../input/text-files';
import { isSource, UsedTexts } from '../input/used-texts';
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
  /** Packages besides the sender’s own whose functions of these names send events. */
  readonly packages: readonly string[];
  /** Files that are not looked at, by patterns such as those of tests, from where the program is run. */
  readonly ignoreFiles: readonly string[];
  /** Texts that are no names of events, whatever they look like; `*` stands for any letters. */
  readonly ignoreNames: readonly string[];
}

const SENDER = 'signal-post-sender';
/** The generated file names every event, and sends none. */
const GENERATED = /^\/\/ Typed calls for .* of the tracking plan/;

export const usageCommand = async (path: string, sources: readonly string[], options: UsageOptions): Promise<Report> => {
  const given = await readPlan(path);
  const usage = usageOf(given.plan, options.source === undefined ? undefined : sourceIdOf(given.plan, options.source));
  const sent = entries(given.plan, 'event').filter(([, e]) => e.name !== '' && isLive(e));
  const functions = new Map([...identifiers([...new Set(sent.map(([, e]) => e.name))].sort())].map(([name, { small }]) => [small, name]));
  const isLeft = options.ignoreFiles.length === 0 ? () => false : picomatch([...options.ignoreFiles], { dot: true });
  const isNoName = options.ignoreNames.length === 0 ? () => false : picomatch([...options.ignoreNames], { dot: true, bash: true });
  const all = sources.flatMap((where) =>
    isFolder(where)
      ? filesUnder(where)
          .filter(isSource)
          .map((f) => join(where, f))
      : [where],
  );
  const files = all.filter((f) => !isLeft(f.replaceAll('\\', '/').replace(/^\.\//, '')));
  const texts = new UsedTexts({ calls: new Set(options.calls), packages: new Set([SENDER, ...options.packages]) });
  for (const file of files) texts.look(file);
  const others = new Map<string, number>();
  const unparsed: string[] = [];
  let read = 0;
  for (const file of files) {
    const text = readText(file);
    if (GENERATED.test(text)) continue;
    read++;
    const scan = texts.scan(file, text);
    if (scan.byText) unparsed.push(file);
    usage.add(scan.used.filter((u) => !isNoName(u.text)));
    for (const c of scan.calls) {
      const name = functions.get(c.name);
      if (name !== undefined) usage.called(name, c.place);
    }
    for (const o of scan.others) others.set(o, (others.get(o) ?? 0) + 1);
  }
  const report = usage.report(given.title, read);
  // What was left out is said: a list that is too wide looks like code that is right.
  return {
    ...report,
    facts: [
      ...report.facts,
      ...(all.length > files.length ? [`${plural(all.length - files.length, 'file')} left out by the list of what to ignore`] : []),
      ...[...others].map(
        ([name, n]) =>
          `${plural(n, 'call')} of ${options.calls.join(' or ')} of the package ${name} taken for something else; name it with --packages if it sends events`,
      ),
      ...(unparsed.length > 0
        ? [`${plural(unparsed.length, 'file')} not understood, so that only quotes were read: ${unparsed.slice(0, 3).join(', ')}`]
        : []),
    ],
  };
};
