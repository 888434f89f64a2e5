/** Makes a question. */
import { blank } from '../../core/plan/defaults';
import { places } from '../workplace/place';
import { usePlan, useWorkplace } from '../workplace/context';

/** Makes a question at the end of the list, and goes there. */
export const useNewQuestion = (): (() => void) => {
  const plan = usePlan();
  const { store, go } = useWorkplace();
  return () => {
    const id = crypto.randomUUID();
    const order = Math.max(0, ...Object.values(plan.question).map((q) => q.order)) + 1;
    store.apply([{ op: 'create', kind: 'question', id, body: blank('question', { order }) }], 'New question');
    go(...places.question(id));
  };
};
