/** One event out of several names under which it arrives. */
import { blank } from '../plan/defaults';
import { setField, type Edit } from '../plan/edit';
import { entries, type Id, type Plan } from '../plan/plan';
import { definitionNamed } from './planned';

/** The edits that unite a twin with the planned event that it is: no message is changed, and whoever sends the twin may still mend it.
 *  Shape: one edit, and the ID of the definition; a definition that unites others under this name takes the twin too. `undefined` where it has it
 *  already.
 */
export const uniteTwin = (
  plan: Plan,
  planned: string,
  twin: string,
  newId: () => Id,
): { readonly id: Id; readonly edits: readonly Edit[] } | undefined => {
  const known = definitionNamed(plan, planned);
  if (!known) {
    const id = newId();
    const owner = entries(plan, 'event').find(([, e]) => e.name === planned)?.[1].owner ?? '';
    const body = blank('definition', {
      name: planned,
      source: { of: 'events', names: [planned, twin] },
      description: `Unites what arrives as ${planned} and as ${twin}.`,
      owner,
    });
    return { id, edits: [{ op: 'create', kind: 'definition', id, body }] };
  }
  const [id, { source }] = known;
  if (source.of !== 'events' || source.names.includes(twin)) return undefined;
  const edit = setField(plan, 'definition', id, 'source', { of: 'events', names: [...source.names, twin] });
  return edit && { id, edits: [edit] };
};
