/** What stands where no question is yet. */
import { Plus } from 'lucide-react';
import { Button } from '../../ui/Button';
import { Empty } from '../../ui/States';
import { usePlan, useWorkplace } from '../workplace/context';
import { useNewQuestion } from './use-new-question';

/** The six steps, for somebody who sees the line for the first time. */
const STEPS: readonly (readonly [string, string])[] = [
  ['Questions', 'Write down what somebody wants to decide, and the figure that tells it.'],
  ['Plan', 'Add the few events and properties that the figures need, named by one convention.'],
  ['Identity', 'Say which identifiers each source carries and what links them; rehearse it.'],
  ['Hand-off', 'Give engineers tickets, schemas and a write key.'],
  ['Arrivals', 'Watch what really comes, and find the cause of each difference.'],
  ['Clearance', 'See, question by question, whether the answer may be relied on.'],
];

export const Beginning = ({ gone }: { gone: boolean }) => {
  const plan = usePlan();
  const { go } = useWorkplace();
  const add = useNewQuestion();
  const isNew = Object.keys(plan.event).length === 0;
  return (
    <>
      <Empty title={gone ? 'This question is not here any more.' : 'Begin with a question, not with an event.'}>
        Write down what somebody wants to decide; the events and properties follow from it.
        <p className="mt-4 flex justify-center gap-2">
          <Button look="full" onClick={add}>
            <Plus size={15} /> Write a question
          </Button>
          {isNew ? (
            <>
              <Button onClick={() => go('plan', 'files')}>Bring in a plan</Button>
              <Button onClick={() => go('plan', 'workspace')}>Name the workspace</Button>
            </>
          ) : null}
        </p>
      </Empty>
      {isNew && !gone ? (
        <ol aria-label="The six steps" className="mx-auto w-full max-w-[640px] border-t border-ink">
          {STEPS.map(([title, text], i) => (
            <li key={title} className="grid grid-cols-[28px_96px_1fr] border-b border-rule py-2">
              <span className="text-ink-2 figures">{i + 1}</span>
              <b>{title}</b>
              <span className="text-ink-2">{text}</span>
            </li>
          ))}
        </ol>
      ) : null}
    </>
  );
};
