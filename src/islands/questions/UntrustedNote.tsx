/** Beside a figure whose question is at stop: that it must not be relied on, and why. */
import { isUntrusted } from '../../core/clearance/untrusted';
import type { Id } from '../../core/plan/plan';
import { ended } from '../../core/sentence';
import { Rich } from '../../ui/Rich';
import { useDraft, useWorkplace } from '../workplace/context';
import { places } from '../workplace/place';
import { useClearances } from '../workplace/queries';

export const UntrustedNote = ({ questionId }: { questionId: Id }) => {
  const { go } = useWorkplace();
  const version = useDraft().server?.published?.number;
  const clearance = useClearances().data?.find((c) => c.questionId === questionId);
  if (!clearance || version === undefined || !isUntrusted(clearance)) return null;
  const gates = clearance.gates.filter((g) => g.signal === 'stop');
  return (
    <p className="mt-4 border-l-4 border-stop pl-3">
      <b className="text-stop">Untrusted</b> under version {version}: {gates[0]!.gate} is at stop
      {gates.length > 1 ? `, and ${gates.length - 1} more` : ''}. <Rich text={ended(gates[0]!.brief ?? gates[0]!.evidence)} />{' '}
      <button
        type="button"
        className="min-h-[24px] text-accent underline decoration-dotted"
        onClick={() => go(...places.clearance(questionId))}
      >
        Its gates
      </button>
    </p>
  );
};
