/** The figure of an answer, drawn in the browser. */
import type { Answer } from '../../core/clearance/answer';
import { FigureView } from '../questions/FigureView';

export const AnswerDrawing = ({
  answer: { figure, period, unit },
  timeZone,
}: {
  answer: Pick<Answer, 'figure' | 'period' | 'unit'>;
  timeZone: string;
}) => (figure ? <FigureView figure={figure} timeZone={timeZone} unit={unit} period={period ?? undefined} height={200} /> : null);
