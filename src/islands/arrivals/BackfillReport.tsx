/** How a file went in: counts, and each rejected row with its reason. */
import { toCsv } from '../../core/formats/csv';
import type { BackfillReport as Report } from '../../workers/backfill-worker';
import { Button } from '../../ui/Button';
import { count } from '../../ui/format';

const SHOWN = 100;

const download = (report: Report): void => {
  const text = toCsv([['row', 'what is wrong'], ...report.problems.map((p) => [String(p.row), p.detail])]);
  const a = document.createElement('a');
  a.href = URL.createObjectURL(new Blob([text], { type: 'text/csv' }));
  a.download = 'rejected-rows.csv';
  a.click();
  URL.revokeObjectURL(a.href);
};

export const BackfillReport = ({ report }: { report: Report }) => (
  <section aria-label="Report" className="mt-4" role="status">
    <h2 className="font-bold">
      {report.state === 'done'
        ? 'The file is imported.'
        : report.state === 'cancelled'
          ? 'Cancelled. Rows accepted so far are kept.'
          : `Row ${count(report.rows)} …`}
    </h2>
    <dl className="mt-1 flex flex-wrap gap-x-6">
      {(
        [
          ['rows read', report.rows],
          ['accepted', report.accepted],
          ['with findings', report.withFindings],
          ['already recorded', report.duplicates],
          ['rejected', report.rejected],
        ] as const
      ).map(([name, n]) => (
        <div key={name} className="border-l border-rule pl-3">
          <dt className="text-sm text-ink-2">{name}</dt>
          <dd className={`text-lg font-semibold figures ${name === 'rejected' && n > 0 ? 'text-stop' : ''}`}>{count(n)}</dd>
        </div>
      ))}
    </dl>
    {report.problems.length > 0 ? (
      <>
        <p className="mt-3 flex items-center gap-3">
          <b>Rejected rows</b>
          <span className="text-ink-2">
            {report.rejected > Math.min(SHOWN, report.problems.length)
              ? `the first ${Math.min(SHOWN, report.problems.length)} of ${count(report.rejected)}`
              : ''}
          </span>
          {report.state === 'running' ? null : (
            <Button look="quiet" className="text-sm" onClick={() => download(report)}>
              Download as CSV
            </Button>
          )}
        </p>
        <ul className="max-h-56 overflow-y-auto border-t border-rule" tabIndex={0} aria-label="Rejected rows">
          {report.problems.slice(0, SHOWN).map((p, i) => (
            <li key={i} className="flex gap-4 border-b border-rule py-0.5">
              <span className="w-24 shrink-0 text-ink-2 figures">row {count(p.row)}</span>
              <span>{p.detail}</span>
            </li>
          ))}
        </ul>
      </>
    ) : null}
  </section>
);
