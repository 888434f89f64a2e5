/** A report as Markdown, short enough to stand beside a change. */
import { countText, type Report } from './report';

const plain = (s: string): string =>
  s
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll(/\s*\n\s*/g, ' ');
const cell = (s: string): string => plain(s).replaceAll('\\', '\\\\').replaceAll('|', '\\|');

const MOST = 100;

/** Source: CommonMark 0.31; tables as in the GitHub Flavored Markdown specification 0.29, 4.10. */
export const markdownText = ({ title, facts, results, cases }: Report): string => {
  const lines = [`## ${plain(title)}`, '', ...facts.map((f) => `- ${plain(f)}`), `- Result: ${countText(results)}`];
  const shown = results.slice(0, MOST);
  if (shown.length > 0) {
    lines.push('', '| severity | about | what | fix | where |', '|---|---|---|---|---|');
    for (const r of shown) {
      const at = r.places[0];
      const of =
        r.count === undefined
          ? ''
          : ` (${r.count.toLocaleString('en-GB')}${r.outOf === undefined ? '' : ` of ${r.outOf.toLocaleString('en-GB')}`})`;
      lines.push(
        `| ${r.severity} | ${cell(r.subject)} | ${cell(r.sentence)}${of} | ${cell(r.fix)} | ${at === undefined ? '' : cell(`${at.file}${at.line === undefined ? '' : `:${at.line}`}`)} |`,
      );
    }
    if (results.length > MOST) lines.push('', `${(results.length - MOST).toLocaleString('en-GB')} more are left out here.`);
  }
  const failed = cases.filter((c) => c.state === 'failed').length;
  if (cases.length > 0) lines.push('', `${cases.length - failed} of ${cases.length} cases without a fault.`);
  return `${lines.join('\n')}\n`;
};
