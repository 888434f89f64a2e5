/** A figure drawn where a person would rather look than read, with the counts behind it.
 *  Long because each of the eight figures is drawn here.
 */
import { useState, type ReactNode } from 'react';
import type { Figure, FigureOf } from '../../core/questions/figure';
import type { Period } from '../../core/questions/formula';
import { BarChart } from '../../ui/Chart';
import { amountText, count, dayText, decimal, monthText, percent, plural, twoDecimals } from '../../ui/format';
import { outsideText, shareOf, spanText, toleranceText } from './figure-text';

const TH = 'pb-1 font-medium';
const Row = ({ children }: { children: ReactNode }) => <tr className="border-t border-rule">{children}</tr>;

const Bar = ({ share, label }: { share: number; label: string }) => (
  <span className="flex items-center gap-2">
    <span className="h-4 bg-accent" style={{ width: `${Math.max(Math.min(share, 1) * 72, share > 0 ? 0.6 : 0)}%` }} />
    <span className="text-sm figures">{label}</span>
  </span>
);

const Interval = ({ of }: { of: { interval: { low: number; high: number } | undefined } }) =>
  of.interval ? (
    <>
      With 95 % confidence between {percent(of.interval.low)} and {percent(of.interval.high)} (Wilson).{' '}
    </>
  ) : null;

/** What is in no figure: messages of nobody, and those dated outside of what is looked at. */
const Uncounted = ({ of, dated = true }: { of: Figure; dated?: boolean }) => (
  <>
    {of.unattributed > 0 ? <>{plural(of.unattributed, 'message')} without a usable identifier count for nobody. </> : null}
    {dated ? outsideText(of) : null}
  </>
);

const PALE = 'A pale bar is a period that is not over.';

const Note = ({ children }: { children: ReactNode }) => <p className="mt-2 text-sm text-ink-2">{children}</p>;

const Conversion = ({ f }: { f: FigureOf<'conversion'> }) => {
  const first = f.steps[0]?.persons ?? 0;
  return (
    <>
      <table className="w-full border-collapse">
        <caption className="sr-only">Persons at each step</caption>
        <thead>
          <tr className="text-left text-sm text-ink-2">
            <th className={`w-[34%] ${TH}`}>step</th>
            <th className={TH}>share of the first</th>
            <th className={`w-20 text-right ${TH}`}>persons</th>
            <th className={`w-24 text-right ${TH}`}>messages</th>
          </tr>
        </thead>
        <tbody>
          {f.steps.map((s, i) => {
            const share = shareOf(s.persons, first);
            return (
              <Row key={i}>
                <th scope="row" className="py-2 pr-3 text-left wire font-medium">
                  {i + 1}. {s.eventName}
                </th>
                <td className="pr-3">
                  {share === undefined ? <span className="text-ink-2">–</span> : <Bar share={share} label={percent(share)} />}
                </td>
                <td className="text-right font-semibold figures">{count(s.persons)}</td>
                <td className="text-right text-ink-2 figures">{count(s.messages)}</td>
              </Row>
            );
          })}
        </tbody>
      </table>
      <Note>
        <Interval of={f} />
        {f.open > 0 ? `${plural(f.open, 'person')} not there yet whose window is still open. ` : ''}
        {toleranceText(f)}
        <Uncounted of={f} />
      </Note>
    </>
  );
};

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

const Series = <P,>({ points, valueOf, unit, title, timeZone, period, height, format }: SeriesProps<P>) => (
  <BarChart
    title={title}
    unit={unit}
    {...(height ? { height } : {})}
    {...(format ? { format } : {})}
    points={points.map((p) => ({
      label: period === 'month' ? monthText(p.from, timeZone) : dayText(p.from, timeZone),
      value: valueOf(p),
      running: !p.complete,
    }))}
  />
);

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

const Retention = ({ f, timeZone }: { f: FigureOf<'retention'>; timeZone: string }) => (
  <>
    <table className="border-collapse text-[0.93rem]">
      <caption className="sr-only">Share that came back, by the week of the first start</caption>
      <thead>
        <tr className="text-sm text-ink-2">
          <th className={`pr-4 text-left ${TH}`}>first start</th>
          <th className={`pr-4 text-right ${TH}`}>persons</th>
          {f.days.map((d) => (
            <th key={d} className={`min-w-[58px] px-2 text-right whitespace-nowrap ${d === f.day ? 'font-bold text-ink' : ''} ${TH}`}>
              day {d}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {f.cohorts.map((c) => (
          <Row key={c.from}>
            <th scope="row" className="py-1 pr-4 text-left font-medium whitespace-nowrap">
              {spanText(c, timeZone)}
            </th>
            <td className="pr-4 text-right figures">{count(c.size)}</td>
            {c.cells.map((cell) => {
              const share = cell.size === 0 ? undefined : cell.returned / cell.size;
              return (
                <td
                  key={cell.day}
                  title={share === undefined ? 'not over yet' : `${count(cell.returned)} of ${count(cell.size)}`}
                  className="border-l border-paper px-2 text-right figures"
                  style={
                    share === undefined ? {} : { background: `color-mix(in srgb, var(--accent) ${Math.round(share * 45)}%, transparent)` }
                  }
                >
                  {share === undefined ? <span className="text-ink-2">–</span> : percent(share, 0)}
                </td>
              );
            })}
          </Row>
        ))}
      </tbody>
    </table>
    <Note>
      {f.mode === 'on day' ? 'Came back on that very day. ' : 'Came back on that day or later. '}
      <Interval of={f} />
      {f.young > 0 ? `${plural(f.young, 'person')} left out: their day ${f.day} is not over. ` : ''}
      <Uncounted of={f} />
    </Note>
  </>
);

const Ranking = ({ f, measure }: { f: FigureOf<'top values'>; measure: string }) => {
  const most = Math.max(...f.ranked.map((r) => r.share), 0);
  return (
    <>
      <table className="w-full border-collapse">
        <caption className="sr-only">Values, ranked</caption>
        <thead>
          <tr className="text-left text-sm text-ink-2">
            <th className={`w-[26%] ${TH}`}>value</th>
            <th className={TH}>share by {measure}</th>
            <th className={`w-24 text-right ${TH}`}>{measure}</th>
            <th className={`w-20 text-right ${TH}`}>persons</th>
            <th className={`w-24 text-right ${TH}`}>per person</th>
          </tr>
        </thead>
        <tbody>
          {f.ranked.slice(0, 12).map((r) => (
            <Row key={`${typeof r.value} ${r.value}`}>
              <th scope="row" className="py-1 pr-3 text-left wire font-medium">
                {String(r.value)}
              </th>
              <td className="pr-3">
                <Bar share={most === 0 ? 0 : r.share / most} label={percent(r.share)} />
              </td>
              <td className="text-right font-semibold figures">{decimal(r.amount)}</td>
              <td className="text-right figures">{count(r.persons)}</td>
              <td className="text-right text-ink-2 figures">{r.persons === 0 ? '–' : twoDecimals(r.messages / r.persons)}</td>
            </Row>
          ))}
        </tbody>
      </table>
      <Note>
        {plural(f.distinct, 'different value')}
        {f.distinct > 12 ? ', the first twelve shown' : ''}. {f.absent > 0 ? `${plural(f.absent, 'message')} lack the property. ` : ''}
        {f.nested > 0 ? `${plural(f.nested, 'message')} carry a list or an object, which is not ranked. ` : ''}
        <Uncounted of={f} />
      </Note>
    </>
  );
};

const Share = ({ f }: { f: FigureOf<'share who also did'> }) => (
  <>
    {f.share === undefined ? (
      <p className="text-ink-2">Nobody did the first yet, so there is no share.</p>
    ) : (
      <Bar share={f.share} label={percent(f.share)} />
    )}
    <Note>
      {plural(f.first, 'person')} did the first, {plural(f.also, 'person')} the other, {count(f.both)} both. <Interval of={f} />
      <Uncounted of={f} />
    </Note>
  </>
);

interface ViewProps {
  readonly figure: Figure;
  readonly timeZone: string;
  readonly period: Period | undefined;
  readonly height?: number;
  /** What a ranking ranks by. */
  readonly measure?: string;
  /** Of the property that is added up; empty for none. */
  readonly unit?: string;
}

const Nothing = ({ of }: { of: Figure }) => (
  <p className="py-6 text-ink-2">
    {of.outside.after + of.outside.before > 0 ? 'No messages of these events in these days.' : 'No messages of these events yet.'}{' '}
    {outsideText(of)}
  </p>
);

export const FigureView = ({ figure: f, timeZone, period, height, measure = 'amount', unit = '' }: ViewProps) => {
  const series = { timeZone, period, height };
  switch (f.type) {
    case 'conversion':
      return <Conversion f={f} />;
    case 'retention':
      return f.cohorts.length === 0 ? <Nothing of={f} /> : <Retention f={f} timeZone={timeZone} />;
    case 'top values':
      return f.ranked.length === 0 ? <Nothing of={f} /> : <Ranking f={f} measure={measure} />;
    case 'share who also did':
      return <Share f={f} />;
    case 'total of a property':
      return f.points.length === 0 ? <Nothing of={f} /> : <Total f={f} unit={unit} {...series} />;
    case 'rate of a value':
      return (
        <>
          <Series
            {...series}
            points={f.points}
            valueOf={(p) => {
              const share = shareOf(p.hits, p.of);
              return share === undefined ? undefined : 100 * share;
            }}
            unit="%"
            title="Share in each week"
            format={decimal}
          />
          <Note>
            <Interval of={f} />
            <Uncounted of={f} />
          </Note>
        </>
      );
    case 'average per person':
      return f.points.length === 0 ? (
        <Nothing of={f} />
      ) : (
        <>
          <Series {...series} points={f.points} valueOf={(p) => p.value} unit="per person" title="Average per person" format={decimal} />
          <Note>
            {plural(f.messages, 'message')} counted. {PALE} <Uncounted of={f} />
          </Note>
        </>
      );
    case 'active persons':
      return f.points.length === 0 ? (
        <Nothing of={f} />
      ) : (
        <>
          <Series {...series} points={f.points} valueOf={(p) => p.persons} unit="persons" title="Active persons" />
          <p className="text-sm text-ink-2">
            {plural(f.messages, 'message')} counted. {PALE} <Uncounted of={f} />
          </p>
        </>
      );
  }
};
