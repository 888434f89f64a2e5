import type { FigureOf } from '../../../core/questions/figure';
import { count, percent, plural } from '../../../ui/format';
import { periodText } from '../figure-text';
import { Interval, Note, Nothing, Row, TH, Uncounted, type Drawn } from './parts';

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
              {periodText(c, timeZone)}
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

export const RetentionFigure = ({ figure, timeZone }: Drawn<FigureOf<'retention'>>) =>
  figure.cohorts.length === 0 ? <Nothing of={figure} /> : <Retention f={figure} timeZone={timeZone} />;
