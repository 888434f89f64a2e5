/** Whose identity rules the screens of the station go by. */
import { useDraft, useWorkplace } from '../workplace/context';

/** The identity rules behind the persons on these screens. */
export const useRulesShown = (): { number: number | undefined; draft: boolean } => {
  const { place } = useWorkplace();
  const number = useDraft().server?.published?.number;
  return { number, draft: number === undefined || place.lens.rules === 'draft' };
};

/** The same in words. */
export const rulesText = ({ number, draft }: ReturnType<typeof useRulesShown>): string =>
  draft ? 'the rules of the draft' : `the rules of version ${number ?? ''}`;
