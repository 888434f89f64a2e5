/** What a file would import: its columns and what each is, and what is in the way. */
import type { Outcome } from '../../core/formats/format';
import type { Preview } from '../../workers/import-worker';
import { count, plural } from '../../ui/format';

export const Mapping = ({
  preview,
  mapping,
  onChange,
}: {
  preview: Preview;
  mapping: readonly (string | undefined)[];
  onChange: (m: readonly (string | undefined)[]) => void;
}) => (
  <div className="mt-3 overflow-x-auto border border-rule">
    <table className="border-collapse text-[0.9rem]">
      <thead>
        <tr>
          {preview.header.map((h, i) => (
            <th key={i} className="border-r border-b border-rule p-1.5 text-left align-top font-medium">
              <span className="block max-w-[150px] truncate wire" title={h}>
                {h || '(no heading)'}
              </span>
              <select
                aria-label={`Meaning of column ${h || i + 1} is`}
                value={mapping[i] ?? ''}
                onChange={(e) =>
                  onChange(mapping.map((m, j) => (j === i ? e.target.value || undefined : m === e.target.value ? undefined : m)))
                }
                className={`mt-1 w-full border bg-paper text-sm ${mapping[i] ? 'border-accent' : 'border-rule text-ink-2'}`}
              >
                <option value="">left out</option>
                {preview.columns.map((c) => (
                  <option key={c}>{c}</option>
                ))}
              </select>
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {preview.sample.map((r, i) => (
          <tr key={i}>
            {r.map((c, j) => (
              <td
                key={j}
                className={`max-w-[170px] truncate border-r border-rule px-1.5 py-0.5 ${mapping[j] ? '' : 'text-ink-2'}`}
                title={c}
              >
                {c}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  </div>
);

const MAX_PROBLEMS = 200;

export const Report = ({ outcome }: { outcome: Outcome }) => (
  <div className="mt-3">
    {outcome.problems.length > 0 ? (
      <div role="alert" className="border-l-4 border-stop bg-ground px-4 py-2">
        <p className="font-semibold text-stop">
          {plural(outcome.problems.length, 'problem')}; nothing is imported until {outcome.problems.length === 1 ? 'it is' : 'they are'}{' '}
          fixed.
        </p>
        <ul tabIndex={0} aria-label="Problems" className="mt-1 max-h-60 overflow-y-auto">
          {outcome.problems.slice(0, MAX_PROBLEMS).map((p, i) => (
            <li key={i} className="flex gap-3">
              <span className="w-36 shrink-0 text-ink-2">{p.where}</span>
              <span>{p.detail}</span>
            </li>
          ))}
          {outcome.problems.length > MAX_PROBLEMS ? (
            <li className="text-ink-2">and {count(outcome.problems.length - MAX_PROBLEMS)} more</li>
          ) : null}
        </ul>
      </div>
    ) : (
      <p>
        <b className="text-clear">Ready.</b> {outcome.summary} {outcome.edits.length === 0 ? 'The plan already contains all of it.' : ''}
      </p>
    )}
    {outcome.notes.length > 0 ? (
      <ul tabIndex={0} aria-label="Notes" className="mt-1 max-h-40 overflow-y-auto text-sm text-caution">
        {outcome.notes.map((n) => (
          <li key={n}>{n}</li>
        ))}
      </ul>
    ) : null}
  </div>
);
