/** Which questions a change makes worse. */
import { SIGNALS, type Signal } from '../clearance/gate';
import type { QuestionDelta } from './dry-run';

const rankOf = (s: Signal): number => SIGNALS.indexOf(s);

/** Questions that may be relied on less than before. A question that is not judged any more is worse than one that was clear. */
export const worse = (questions: readonly QuestionDelta[]): QuestionDelta[] =>
  questions.filter(
    ({ signalBefore: a, signalAfter: b }) =>
      a !== undefined && b !== undefined && a !== b && (rankOf(b) < rankOf(a) || (a === 'clear' && b === 'open')) && a !== 'open',
  );
