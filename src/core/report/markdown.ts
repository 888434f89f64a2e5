/** A report as Markdown, short enough to stand beside a change. */
import { heading, list, markdownOf, para, table, type Block } from '../formats/blocks';
import { countText, type Report } from './report';

const MOST = 100;

const howMany = ({ count, outOf }: Report['results'][number]): string =>
  count === undefined ? '' : ` (${count.toLocaleString('en-GB')}${outOf === undefined ? '' : ` of ${outOf.toLocaleString('en-GB')}`})`;

export const markdownText = ({ title, facts, results, cases }: Report): string => {
  const blocks: Block[] = [heading(2, title), list([...facts, `Result: ${countText(results)}`])];
  const shown = results.slice(0, MOST);
  if (shown.length > 0)
    blocks.push(
      table(
        ['severity', 'about', 'what', 'fix', 'where'],
        shown.map((r) => {
          const [at] = r.places;
          const where = at === undefined ? '' : `${at.file}${at.line === undefined ? '' : `:${at.line}`}`;
          return [r.severity, r.subject, r.sentence + howMany(r), r.fix, where];
        }),
      ),
    );
  if (results.length > MOST) blocks.push(para(`${(results.length - MOST).toLocaleString('en-GB')} more are left out here.`));
  const failed = cases.filter((c) => c.state === 'failed').length;
  if (cases.length > 0) blocks.push(para(`${cases.length - failed} of ${cases.length} cases without a fault.`));
  return markdownOf(blocks);
};
