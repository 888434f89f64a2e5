import type { FigureOf } from '../../../core/questions/figure';
import { count, percent, plural } from '../../../ui/format';
import { Bar, Interval, Note, Uncounted, type Drawn } from './parts';

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

export const ShareFigure = ({ figure }: Drawn<FigureOf<'share who also did'>>) => <Share f={figure} />;
