/** Sign-offs that a change would let fall. */
import { meaningOfQuestion, type SignOff } from '../clearance/sign-off';
import type { Plan } from '../plan/plan';
import type { DryRun, QuestionDelta } from './dry-run';
import { worse } from './worse';

/** Which of the sign-offs that hold would fall: where the question means something else, is gone, or may be relied on less. */
export const fallingSignOffs = (
  holding: readonly SignOff[],
  [before, after]: readonly [Plan, Plan],
  questions: readonly QuestionDelta[],
): NonNullable<DryRun['signOffs']> =>
  holding.flatMap((s) => {
    const next = after.question[s.questionId];
    const lost = worse(questions).some((q) => q.id === s.questionId);
    const because = !next
      ? 'the question is gone'
      : meaningOfQuestion(after, next) !== s.meaning
        ? 'it means something else'
        : lost
          ? 'its signal falls'
          : undefined;
    return because === undefined
      ? []
      : [{ questionId: s.questionId, text: (next ?? before.question[s.questionId])?.text ?? s.questionId, author: s.author, because }];
  });
