/** A figure drawn: a series of periods, or the steps of a conversion. */
import type { Figure } from '../../core/questions/figure';
import type { Period } from '../../core/questions/formula';
import { BarChart } from '../../ui/Chart';
import { count, dayText, monthText, percent, plural } from '../../ui/format';

export const headline = (f: Figure | undefined): string =>
  f === undefined ? '–' : f.type === 'active persons' ? (f.latest ? count(f.latest.persons) : '–') : percent(f.share);

export const headlineNote = (f: Figure | undefined, timeZone: string): string => {
  if (f === undefined) return 'no formula yet';
  if (f.type === 'active persons') return f.latest ? `persons, ${dayText(f.latest.from, timeZone)} to ${dayText(f.latest.to - 1, timeZone)}` : f.points.length > 0 ? 'the first period is not over' : 'nothing arrived';
  return f.share === undefined ? 'nobody did the first step' : `${count(f.steps.at(-1)!.persons)} of ${plural(f.steps[0]!.persons, 'person')}`;
};

const Steps = ({ figure }: { figure: Extract<Figure, { type: 'conversion' }> }) => {
  const first = figure.steps[0]?.persons ?? 0;
  return (
    <table className="w-full border-collapse">
      <caption className="sr-only">Persons at each step</caption>
      <thead>
        <tr className="text-ink-2 text-left text-sm">
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
            <tr key={i} className="border-rule border-t">
              <th scope="row" className="wire py-2 pr-3 text-left font-medium">
                {i + 1}. {s.eventName}
              </th>
              <td className="pr-3">
                <span className="flex items-center gap-2">
                  <span className="bg-accent h-4" style={{ width: `${Math.max(share * 72, share > 0 ? 0.6 : 0)}%` }} />
                  <span className="figures text-sm">{percent(share)}</span>
                </span>
              </td>
              <td className="figures text-right font-semibold">{count(s.persons)}</td>
              <td className="figures text-ink-2 text-right">{count(s.messages)}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
};

export const FigureView = ({ figure, timeZone, period, height }: { figure: Figure; timeZone: string; period: Period | undefined; height?: number }) => {
  if (figure.type === 'conversion')
    return (
      <div>
        <Steps figure={figure} />
        <p className="text-ink-2 mt-2 text-sm">
          {figure.interval ? `With 95 % confidence between ${percent(figure.interval.low)} and ${percent(figure.interval.high)} (Wilson). ` : ''}
          {figure.open > 0 ? `${plural(figure.open, 'person')} not there yet whose window is still open. ` : ''}
          {figure.unattributed > 0 ? `${plural(figure.unattributed, 'message')} without a usable identifier count for nobody.` : ''}
        </p>
      </div>
    );
  if (figure.points.length === 0) return <p className="text-ink-2 py-6">No message of these events has arrived yet.</p>;
  return (
    <div>
      <BarChart
        title="Active persons"
        unit="persons"
        {...(height ? { height } : {})}
        points={figure.points.map((p) => ({ label: period === 'month' ? monthText(p.from, timeZone) : dayText(p.from, timeZone), value: p.persons, running: !p.complete }))}
      />
      <p className="text-ink-2 text-sm">
        {plural(figure.messages, 'message')} counted. A pale bar is a period that is not over.
        {figure.unattributed > 0 ? ` ${plural(figure.unattributed, 'message')} without a usable identifier count for nobody.` : ''}
      </p>
    </div>
  );
};
