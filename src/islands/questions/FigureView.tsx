/** A figure drawn: a series of periods, or the steps of a conversion. */
import type { Figure } from '../../core/questions/figure';
import type { Period } from '../../core/questions/formula';
import { BarChart } from '../../ui/Chart';
import { count, dayText, monthText, percent, plural } from '../../ui/format';

export const headline = (f: Figure | undefined): string =>
  f === undefined ? '–' : f.type === 'active persons' ? (f.latest ? count(f.latest.persons) : '–') : percent(f.share);

export const headlineNote = (f: Figure | undefined, timeZone: string): string => {
  if (f === undefined) return 'no formula yet';
  if (f.type === 'active persons')
    return f.latest
      ? `persons, ${dayText(f.latest.from, timeZone)} to ${dayText(f.latest.to - 1, timeZone)}`
      : f.points.length > 0
        ? 'the first period is not over'
        : 'nothing arrived';
  return f.share === undefined
    ? 'nobody did the first step'
    : `${count(f.steps.at(-1)!.persons)} of ${plural(f.steps[0]!.persons, 'person')}`;
};

const Steps = ({ figure }: { figure: Extract<Figure, { type: 'conversion' }> }) => {
  const first = figure.steps[0]?.persons ?? 0;
  return (
    <table className="w-full border-collapse">
      <caption className="sr-only">Persons at each step</caption>
      <thead>
        <tr className="text-left text-sm text-ink-2">
          <th className="w-[34%] pb-1 font-medium">step</th>
          <th className="pb-1 font-medium">share of the first</th>
          <th className="w-20 pb-1 text-right font-medium">persons</th>
          <th className="w-24 pb-1 text-right font-medium">messages</th>
        </tr>
      </thead>
      <tbody>
        {figure.steps.map((s, i) => {
          const share = first === 0 ? 0 : s.persons / first;
          return (
            <tr key={i} className="border-t border-rule">
              <th scope="row" className="py-2 pr-3 text-left wire font-medium">
                {i + 1}. {s.eventName}
              </th>
              <td className="pr-3">
                <span className="flex items-center gap-2">
                  <span className="h-4 bg-accent" style={{ width: `${Math.max(share * 72, share > 0 ? 0.6 : 0)}%` }} />
                  <span className="text-sm figures">{percent(share)}</span>
                </span>
              </td>
              <td className="text-right font-semibold figures">{count(s.persons)}</td>
              <td className="text-right text-ink-2 figures">{count(s.messages)}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
};

export const FigureView = ({
  figure,
  timeZone,
  period,
  height,
}: {
  figure: Figure;
  timeZone: string;
  period: Period | undefined;
  height?: number;
}) => {
  if (figure.type === 'conversion')
    return (
      <div>
        <Steps figure={figure} />
        <p className="mt-2 text-sm text-ink-2">
          {figure.interval
            ? `With 95 % confidence between ${percent(figure.interval.low)} and ${percent(figure.interval.high)} (Wilson). `
            : ''}
          {figure.open > 0 ? `${plural(figure.open, 'person')} not there yet whose window is still open. ` : ''}
          {figure.unattributed > 0 ? `${plural(figure.unattributed, 'message')} without a usable identifier count for nobody.` : ''}
        </p>
      </div>
    );
  if (figure.points.length === 0) return <p className="py-6 text-ink-2">No message of these events has arrived yet.</p>;
  return (
    <div>
      <BarChart
        title="Active persons"
        unit="persons"
        {...(height ? { height } : {})}
        points={figure.points.map((p) => ({
          label: period === 'month' ? monthText(p.from, timeZone) : dayText(p.from, timeZone),
          value: p.persons,
          running: !p.complete,
        }))}
      />
      <p className="text-sm text-ink-2">
        {plural(figure.messages, 'message')} counted. A pale bar is a period that is not over.
        {figure.unattributed > 0 ? ` ${plural(figure.unattributed, 'message')} without a usable identifier count for nobody.` : ''}
      </p>
    </div>
  );
};
