/** A figure drawn where a person would rather look than read, with the counts behind it.
 *  Long because each of the eight figures is drawn here.
 */
import type { Figure } from '../../core/questions/figure';
import { ActivePersonsFigure } from './figures/active-persons';
import { AverageFigure } from './figures/average-per-person';
import { ConversionFigure } from './figures/conversion';
import { measuredText } from './figure-text';
import type { Drawn } from './figures/parts';
import { RateFigure } from './figures/rate-of-a-value';
import { RetentionFigure } from './figures/retention';
import { ShareFigure } from './figures/share-who-also-did';
import { TopValuesFigure } from './figures/top-values';
import { TotalFigure } from './figures/total-of-a-property';

type ViewProps = Omit<Drawn<Figure>, 'measure' | 'unit'> & Partial<Pick<Drawn<Figure>, 'measure' | 'unit'>>;

/** The figure, and above it what of it is not measured. */
export const FigureView = (props: ViewProps) => {
  const note = measuredText(props.figure, props.timeZone);
  return (
    <>
      {note === '' ? null : <p className="mb-2 border-l-4 border-caution-fill pl-3">{note}</p>}
      <Drawing {...props} />
    </>
  );
};

/** The drawing of a figure, by its formula: one file each in figures/. */
const Drawing = ({ figure, measure = 'amount', unit = '', ...rest }: ViewProps) => {
  const over = { ...rest, measure, unit };
  switch (figure.type) {
    case 'conversion':
      return <ConversionFigure figure={figure} {...over} />;
    case 'retention':
      return <RetentionFigure figure={figure} {...over} />;
    case 'top values':
      return <TopValuesFigure figure={figure} {...over} />;
    case 'share who also did':
      return <ShareFigure figure={figure} {...over} />;
    case 'total of a property':
      return <TotalFigure figure={figure} {...over} />;
    case 'rate of a value':
      return <RateFigure figure={figure} {...over} />;
    case 'average per person':
      return <AverageFigure figure={figure} {...over} />;
    case 'active persons':
      return <ActivePersonsFigure figure={figure} {...over} />;
  }
};
