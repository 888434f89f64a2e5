import type { FigureOf } from '../../../core/questions/figure';
import { decimal } from '../../../ui/format';
import { CountedSeries, type Drawn } from './parts';

export const AverageFigure = ({ figure, timeZone, period, height }: Drawn<FigureOf<'average per person'>>) => (
  <CountedSeries
    {...{ figure, timeZone, period, height }}
    valueOf={(p) => p.value}
    unit="per person"
    title="Average per person"
    format={decimal}
  />
);
