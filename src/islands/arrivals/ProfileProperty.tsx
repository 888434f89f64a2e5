/** One property of a profile: as it came beside the plan, all sources together or by source. */
import { Fragment, useState } from 'react';
import type { Counted, PropertyProfile } from '../../core/arrival/profile';
import type { Scalar } from '../../core/table/message-table';
import { count, decimal, percent, plural } from '../../ui/format';
import { SourceMark } from '../../ui/SourceMark';
import { usePlan } from '../workplace/context';

/** Below this share of the most frequent value, the values are names of single things, and only samples are worth reading. */
const MIN_SHARE = 0.02;

const Values = ({ top, of, allowed }: { top: readonly Counted<Scalar>[]; of: number; allowed: readonly string[] }) =>
  top[0] && top[0].messages / of < MIN_SHARE ? (
    <p>
      <span className="text-ink-2">mostly different, such as</span>{' '}
      <span className="wire">
        {top
          .slice(0, 3)
          .map((v) => String(v.value))
          .join(', ')}
      </span>
    </p>
  ) : (
    <ul>
      {top.map((v) => {
        const outside = allowed.length > 0 && !allowed.includes(String(v.value));
        return (
          <li key={`${typeof v.value} ${String(v.value)}`} className="grid grid-cols-[minmax(0,1fr)_44px_40px] items-center gap-2">
            <span className={`truncate wire ${outside ? 'text-stop' : ''}`} title={outside ? 'not on the plan’s list' : String(v.value)}>
              {typeof v.value === 'string' && v.value !== '' ? v.value : JSON.stringify(v.value)}
            </span>
            <span className="block h-2 bg-wash">
              <span className="block h-2 bg-accent" style={{ width: `${(v.messages / of) * 100}%` }} />
            </span>
            <span className="text-right text-sm text-ink-2 figures">{percent(v.messages / of, 0)}</span>
          </li>
        );
      })}
    </ul>
  );

export const PropertyRow = ({
  p,
  messages,
  several,
  automatic,
}: {
  p: PropertyProfile;
  messages: number;
  several: boolean;
  /** Whether a library sends the event on its own. */
  automatic: boolean;
}) => {
  const plan = usePlan();
  const [bySource, setBySource] = useState(false);
  const missing = messages - p.messages;
  return (
    <tr className="border-t border-rule align-top">
      <td className="py-1.5 pr-4">
        <span className="block wire font-semibold break-words">
          {p.name.split(/(?<=\.)/).map((part, i) => (
            <Fragment key={i}>
              {i > 0 ? <wbr /> : null}
              {part}
            </Fragment>
          ))}
        </span>
        <span className={`text-sm ${p.planned || automatic ? 'text-ink-2' : 'text-caution'}`}>
          {p.planned
            ? `${p.planned.type}${p.planned.unit ? `, ${p.planned.unit}` : ''}${p.required ? ', required' : ''}`
            : automatic
              ? 'from the library'
              : 'not in the plan'}
        </span>
        {p.mayLack ? <span className="block text-sm text-ink-2">It contains more names than are listed here.</span> : null}
        {several && p.bySource.length > 1 ? (
          <button
            type="button"
            aria-expanded={bySource}
            className="block min-h-[24px] text-left text-sm text-accent underline decoration-dotted"
            onClick={() => setBySource(!bySource)}
          >
            {bySource ? 'all sources together' : 'by source'}
          </button>
        ) : null}
      </td>
      <td className="py-1.5 pr-4 whitespace-nowrap">
        {p.types.map((t) => t.value).join(', ') || 'never came'}
        <span className={`block text-sm ${missing > 0 && p.required ? 'text-stop' : 'text-ink-2'}`}>
          {missing === 0 ? 'on every message' : `missing on ${percent(missing / messages)}`}
        </span>
      </td>
      <td className="py-1.5 pr-4 text-right figures">{count(p.distinct)}</td>
      <td className="py-1.5 pr-4 text-sm whitespace-nowrap figures">
        {p.numbers ? (
          <>
            {decimal(p.numbers.min)} to {decimal(p.numbers.max)}
            <span className="block text-ink-2">median {decimal(p.numbers.median)}</span>
            <span className="block text-ink-2">p95 {decimal(p.numbers.p95)}</span>
            {p.planned?.min !== undefined || p.planned?.max !== undefined ? (
              <span
                className={`block ${p.numbers.min < (p.planned.min ?? -Infinity) || p.numbers.max > (p.planned.max ?? Infinity) ? 'text-stop' : 'text-ink-2'}`}
              >
                plan: {p.planned.min ?? 'any'} to {p.planned.max ?? 'any'}
              </span>
            ) : null}
          </>
        ) : null}
      </td>
      <td className="py-1.5">
        {bySource ? (
          <div className="grid gap-2">
            {p.bySource.map((s) => {
              const source = plan.source[s.sourceId];
              return (
                <div key={s.sourceId} className="min-w-0">
                  <p className="mb-0.5 flex items-center gap-1.5 text-sm text-ink-2">
                    {source ? <SourceMark letter={source.mark} kind={source.kind} name={source.name} /> : s.sourceId} {count(s.messages)}{' '}
                    messages, {plural(s.distinct, 'value')}
                  </p>
                  <Values top={s.top} of={s.messages} allowed={p.planned?.allowed ?? []} />
                </div>
              );
            })}
          </div>
        ) : (
          <Values top={p.top} of={p.messages} allowed={p.planned?.allowed ?? []} />
        )}
      </td>
    </tr>
  );
};
