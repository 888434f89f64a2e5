import type { FigureOf } from '../../../core/questions/figure';
import { count, percent, plural } from '../../../ui/format';
import { shareOf, toleranceText } from '../figure-text';
import { Bar, Interval, Note, Row, TH, Uncounted, type Drawn } from './parts';

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

export const ConversionFigure = ({ figure }: Drawn<FigureOf<'conversion'>>) => <Conversion f={figure} />;
