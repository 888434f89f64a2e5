/** The figure of an answer, drawn in the browser, with what happened to it as marks. */
import type { Answer } from '../../core/clearance/answer';
import type { FigureMark } from '../../core/clearance/marks';
import { FigureView } from '../questions/FigureView';
import { FigureMarks } from '../questions/figures/marks';

interface Props {
  readonly answer: Pick<Answer, 'figure' | 'period' | 'unit'>;
  readonly marks: readonly FigureMark[];
  readonly timeZone: string;
}

export const AnswerDrawing = ({ answer: { figure, period, unit }, marks, timeZone }: Props) =>
  figure ? (
    <FigureMarks value={marks}>
      <FigureView figure={figure} timeZone={timeZone} unit={unit} period={period ?? undefined} height={200} />
    </FigureMarks>
  ) : null;
