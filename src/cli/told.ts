/** How a report is told: to people, or to a machine. */
import { writeFileSync } from 'node:fs';
import { junitText } from '../core/report/junit';
import { markdownText } from '../core/report/markdown';
import { countText, fails, type FailOn, type Report, type Result } from '../core/report/report';
import { sarifOf } from '../core/report/sarif';
import { EXIT, unreadable } from './trouble';

export const OUTPUTS = ['text', 'json', 'junit', 'sarif', 'markdown'] as const;
export type Output = (typeof OUTPUTS)[number];

export interface TellOptions {
  readonly output: Output;
  /** A file; standard output where left out. */
  readonly to: string | undefined;
  readonly failOn: FailOn;
  readonly version: string;
}

const at = (r: Result): string => {
  const [place] = r.places;
  return place === undefined
    ? ''
    : `${place.file}${place.line === undefined ? '' : `:${place.line}${place.column === undefined ? '' : `:${place.column}`}`}`;
};

const MOST = 200;

const plainText = ({ title, facts, results }: Report): string => {
  const lines = [title, ...facts.map((f) => `  ${f}`)];
  for (const r of results.slice(0, MOST)) {
    const of =
      r.count === undefined
        ? ''
        : ` (${r.count.toLocaleString('en-GB')}${r.outOf === undefined ? '' : ` of ${r.outOf.toLocaleString('en-GB')}`})`;
    lines.push('', `${r.severity.toUpperCase()}  ${r.sentence}${of}`, `      ${[r.code, at(r)].filter(Boolean).join('  ')}`);
    if (r.fix !== '') lines.push(`      Fix: ${r.fix}`);
  }
  if (results.length > MOST) lines.push('', `${(results.length - MOST).toLocaleString('en-GB')} more; --output json has them all.`);
  lines.push('', countText(results));
  return `${lines.join('\n')}\n`;
};

const written = (report: Report, output: Output, version: string): string => {
  switch (output) {
    case 'text':
      return plainText(report);
    case 'json':
      return `${JSON.stringify({ version, ...report }, null, 2)}\n`;
    case 'junit':
      return junitText(report);
    case 'sarif':
      return `${JSON.stringify(sarifOf(report, version), null, 2)}\n`;
    case 'markdown':
      return markdownText(report);
  }
};

/** Tells a report; the exit code of the run. */
export const tell = (report: Report, { output, to, failOn, version }: TellOptions): number => {
  const text = written(report, output, version);
  if (to === undefined) process.stdout.write(text);
  else
    try {
      writeFileSync(to, text);
      process.stdout.write(`${report.title}: ${countText(report.results)}. Written to ${to}.\n`);
    } catch (e) {
      throw unreadable(to, `it cannot be written: ${(e as Error).message}`);
    }
  return fails(report.results, failOn) ? EXIT.findings : EXIT.clean;
};
