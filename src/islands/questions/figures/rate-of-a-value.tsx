import type { FigureOf } from '../../../core/questions/figure';
import { decimal } from '../../../ui/format';
import { shareOf } from '../figure-text';
import { Interval, Note, Series, Uncounted, type Drawn } from './parts';

export const RateFigure = ({ figure: f, timeZone, period, height }: Drawn<FigureOf<'rate of a value'>>) => (
  <>
    <Series
      timeZone={timeZone}
      period={period}
      height={height}
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
