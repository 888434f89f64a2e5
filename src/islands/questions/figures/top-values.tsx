import type { FigureOf } from '../../../core/questions/figure';
import { count, decimal, percent, plural, twoDecimals } from '../../../ui/format';
import { Bar, Note, Nothing, Row, TH, Uncounted, type Drawn } from './parts';

const Ranking = ({ f, measure }: { f: FigureOf<'top values'>; measure: string }) => {
  const max = Math.max(...f.ranked.map((r) => r.share), 0);
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
                <Bar share={max === 0 ? 0 : r.share / max} label={percent(r.share)} />
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

export const TopValuesFigure = ({ figure, measure }: Drawn<FigureOf<'top values'>>) =>
  figure.ranked.length === 0 ? <Nothing of={figure} /> : <Ranking f={figure} measure={measure} />;
