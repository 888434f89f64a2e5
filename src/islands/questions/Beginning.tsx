/** What is where no question is yet. */
import { Plus } from 'lucide-react';
import { Button } from '../../ui/Button';
import { Empty } from '../../ui/States';
import { usePlan, useWorkplace } from '../workplace/context';
import { places } from '../workplace/place';
import { useNewQuestion } from './use-new-question';

/** The six steps, for somebody who sees the line for the first time. */
const STEPS: readonly (readonly [string, string])[] = [
  ['Questions', 'Write down what somebody wants to decide and the figure that answers it.'],
  ['Plan', 'Add the events and properties that the figures need, named by one convention.'],
  ['Identity', 'Set which identifiers each source carries and what links them; test it.'],
  ['Hand-off', 'Give engineers tickets, schemas and a write key.'],
  ['Arrivals', 'Watch what arrives and find the cause of each difference.'],
  ['Clearance', 'See, question by question, whether the answer can be relied on.'],
];

export const Beginning = ({ gone }: { gone: boolean }) => {
  const plan = usePlan();
  const { go } = useWorkplace();
  const add = useNewQuestion();
  const isNew = Object.keys(plan.event).length === 0;
  return (
    <>
      <Empty title={gone ? 'This question no longer exists.' : 'Start with a question, not with an event.'}>
        Write down what somebody wants to decide; events and properties follow from it.
        <p className="mt-4 flex justify-center gap-2">
          <Button look="full" onClick={add}>
            <Plus size={15} /> Write a question
          </Button>
          {isNew ? (
            <>
              <Button onClick={() => go(...places.plan('files'))}>Import a plan</Button>
              <Button onClick={() => go(...places.plan('workspace'))}>Name the workspace</Button>
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
