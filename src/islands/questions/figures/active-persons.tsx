import type { FigureOf } from '../../../core/questions/figure';
import { CountedSeries, type Drawn } from './parts';

export const ActivePersonsFigure = ({ figure, timeZone, period, height }: Drawn<FigureOf<'active persons'>>) => (
  <CountedSeries {...{ figure, timeZone, period, height }} valueOf={(p) => p.persons} unit="persons" title="Active persons" />
);
