/** Which questions a change makes worse. */
import { SIGNALS, type Signal } from '../clearance/gate';
import type { DryRun, QuestionDelta } from './dry-run';

const rankOf = (s: Signal): number => SIGNALS.indexOf(s);

/** Questions that may be relied on less than before. A question that is not judged any more is worse than one that was clear. */
export const worse = (questions: readonly QuestionDelta[]): QuestionDelta[] =>
  questions.filter(
    ({ signalBefore: a, signalAfter: b }) =>
      a !== undefined && b !== undefined && a !== b && (rankOf(b) < rankOf(a) || (a === 'clear' && b === 'open')) && a !== 'open',
  );

const counted = (n: number, one: string, many: string): string[] =>
  n === 0 ? [] : [`${n.toLocaleString('en-GB')} ${n === 1 ? one : many}`];

/** What a dry run found, in a line: findings, figures and signals that differ. */
export const sumOf = ({ findings, questions }: Pick<DryRun, 'findings' | 'questions'>): string => {
  const appear = findings.filter((f) => f.before === 0).length;
  const vanish = findings.filter((f) => f.after === 0).length;
  const figures = questions.filter((q) => q.before !== q.after).length;
  const parts = [
    ...counted(appear, 'finding appears', 'findings appear'),
    ...counted(vanish, 'finding vanishes', 'findings vanish'),
    ...counted(findings.length - appear - vanish, 'finding changes', 'findings change'),
    ...counted(figures, 'figure differs', 'figures differ'),
    ...counted(worse(questions).length, 'question may be relied on less', 'questions may be relied on less'),
  ];
  return parts.length === 0 ? 'nothing changes' : parts.join(', ');
};
