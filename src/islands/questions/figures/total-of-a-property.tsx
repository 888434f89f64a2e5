import { useState } from 'react';
import type { FigureOf } from '../../../core/questions/figure';
import type { Period } from '../../../core/questions/formula';
import { amountText } from '../../../ui/amount';
import { decimal, plural } from '../../../ui/format';
import { outsideText } from '../figure-text';
import { Note, Nothing, PALE, Series, type Drawn } from './parts';

const STATISTICS = ['sum', 'mean', 'median', 'p95'] as const;

const Total = ({
  f,
  unit,
  ...rest
}: {
  f: FigureOf<'total of a property'>;
  /** Of the property, as the plan has it; empty for none. */
  unit: string;
  timeZone: string;
  period: Period | undefined;
  height: number | undefined;
}) => {
  const [shown, setShown] = useState<(typeof STATISTICS)[number]>('sum');
  return (
    <>
      <div className="mb-1 flex gap-5" role="group" aria-label="Statistic">
        {STATISTICS.map((s) => (
          <button
            key={s}
            type="button"
            aria-pressed={s === shown}
            onClick={() => setShown(s)}
            className={`border-b-2 px-1 text-left ${s === shown ? 'border-accent' : 'border-transparent hover:border-rule'}`}
          >
            <span className="block text-sm text-ink-2">{s} of all</span>
            <span className="font-semibold">{f.all[s] === undefined ? '–' : amountText(f.all[s], unit)}</span>
          </button>
        ))}
      </div>
      <Series
        {...rest}
        points={f.points}
        valueOf={(p) => p[shown]}
        unit={unit === '' ? shown : `${shown}, ${unit}`}
        title={`The ${shown} in each period`}
        format={decimal}
      />
      <Note>
        {plural(f.all.n, 'value')} counted{unit === '' ? '; the plan gives the property no unit' : `, in ${unit}`}.{' '}
        {f.notANumber > 0 ? `${plural(f.notANumber, 'message')} carry no number and are left out. ` : ''}
        {PALE} {outsideText(f)}
      </Note>
    </>
  );
};

export const TotalFigure = ({ figure, unit, timeZone, period, height }: Drawn<FigureOf<'total of a property'>>) =>
  figure.points.length === 0 ? (
    <Nothing of={figure} />
  ) : (
    <Total f={figure} unit={unit} timeZone={timeZone} period={period} height={height} />
  );
