/** What the drawings of formulas share: tables, bars, series over time, and what is said below them. */
import { useContext, type ReactNode } from 'react';
import { marksByPeriod } from '../../../core/clearance/marks';
import type { Figure } from '../../../core/questions/figure';
import type { Period } from '../../../core/questions/formula';
import { BarChart } from '../../../ui/Chart';
import { dayText, monthText, percent, plural } from '../../../ui/format';
import { outsideText } from '../figure-text';
import { FigureMarks } from './marks';

export const TH = 'pb-1 font-medium';
export const Row = ({ children }: { children: ReactNode }) => <tr className="border-t border-rule">{children}</tr>;

export const Bar = ({ share, label }: { share: number; label: string }) => (
  <span className="flex items-center gap-2">
    <span className="h-4 bg-accent" style={{ width: `${Math.max(Math.min(share, 1) * 72, share > 0 ? 0.6 : 0)}%` }} />
    <span className="text-sm figures">{label}</span>
  </span>
);

export const Interval = ({ of }: { of: { interval: { low: number; high: number } | undefined } }) =>
  of.interval ? (
    <>
      With 95 % confidence between {percent(of.interval.low)} and {percent(of.interval.high)} (Wilson).{' '}
    </>
  ) : null;

/** What is in no figure: messages of nobody, and those dated outside of what is looked at. */
export const Uncounted = ({ of, dated = true }: { of: Figure; dated?: boolean }) => (
  <>
    {of.unattributed > 0 ? <>{plural(of.unattributed, 'message')} without a usable identifier count for nobody. </> : null}
    {dated ? outsideText(of) : null}
  </>
);

export const PALE = 'A pale bar is a period that is not over.';

export const Note = ({ children }: { children: ReactNode }) => <p className="mt-2 text-sm text-ink-2">{children}</p>;

interface SeriesProps<P> {
  readonly points: readonly (P & { from: number; to: number; complete: boolean })[];
  readonly valueOf: (p: P) => number | undefined;
  readonly unit: string;
  readonly title: string;
  readonly timeZone: string;
  readonly period: Period | undefined;
  readonly height: number | undefined;
  readonly format?: (n: number) => string;
}

export const Series = <P,>({ points, valueOf, unit, title, timeZone, period, height, format }: SeriesProps<P>) => {
  const marks = new Map(marksByPeriod(useContext(FigureMarks), points).map((m) => [m.index, m.text]));
  return (
    <BarChart
      title={title}
      unit={unit}
      {...(height ? { height } : {})}
      {...(format ? { format } : {})}
      points={points.map((p, i) => {
        const mark = marks.get(i);
        return {
          label: period === 'month' ? monthText(p.from, timeZone) : dayText(p.from, timeZone),
          value: valueOf(p),
          running: !p.complete,
          ...(mark === undefined ? {} : { mark }),
        };
      })}
    />
  );
};

export const Nothing = ({ of }: { of: Figure }) => (
  <p className="py-6 text-ink-2">
    {of.outside.after + of.outside.before > 0 ? 'No messages of these events in these days.' : 'No messages of these events yet.'}{' '}
    {outsideText(of)}
  </p>
);

/** What every drawing is given. */
export interface Drawn<F extends Figure> {
  readonly figure: F;
  readonly timeZone: string;
  readonly period: Period | undefined;
  readonly height?: number | undefined;
  /** What a ranking ranks by. */
  readonly measure: string;
  /** Of the property that is added up; empty for none. */
  readonly unit: string;
}

/** A figure over time, with how many messages it counted. */
export const CountedSeries = <P,>({
  figure,
  ...series
}: Omit<SeriesProps<P>, 'points'> & {
  readonly figure: Figure & { readonly messages: number } & Pick<SeriesProps<P>, 'points'>;
}) =>
  figure.points.length === 0 ? (
    <Nothing of={figure} />
  ) : (
    <>
      <Series {...series} points={figure.points} />
      <Note>
        {plural(figure.messages, 'message')} counted. {PALE} <Uncounted of={figure} />
      </Note>
    </>
  );
