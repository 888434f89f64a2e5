/** What of a finding a definition can mend, at once and over all that was recorded. */
import type { FindingGroup } from '../arrival/finding-group';
import { setField, type Edit } from '../plan/edit';
import type { Id, Plan } from '../plan/plan';
import { orAlso } from './interactions';
import { definitionNamed } from './planned';
import { uniteTwin } from './unite';

export interface Offered {
  readonly text: string;
  /** The definition that is made or changed. */
  readonly id: Id;
  readonly edits: readonly Edit[];
}

/** The definition that a finding offers: twins united, or an element that changed taken in. `undefined` where none does. */
export const definitionFor = (
  plan: Plan,
  g: Pick<FindingGroup, 'code' | 'touches' | 'eventName' | 'successor'>,
  newId: () => Id,
): Offered | undefined => {
  if (g.code === 'unknown-event') {
    const [twin, planned] = g.touches;
    const made = twin !== undefined && planned !== undefined ? uniteTwin(plan, planned, twin, newId) : undefined;
    return made && { text: 'Unite both in a definition', ...made };
  }
  if (g.code !== 'definition-dropped') return undefined;
  const known = definitionNamed(plan, g.eventName);
  if (!known || !g.successor) return undefined;
  const [id, d] = known;
  const where = orAlso(d.where, g.successor);
  const edit = where && setField(plan, 'definition', id, 'where', where);
  return (
    edit && { text: `Take in ${g.successor.text === '' ? g.successor.place : `“${g.successor.text.slice(0, 40)}”`}`, id, edits: [edit] }
  );
};
