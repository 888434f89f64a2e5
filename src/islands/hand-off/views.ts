/** What the station shows beside its events, and how an address names it. */
import { partsOf } from '../workplace/place';
import type { Id } from '../../core/plan/plan';

export const HAND_OFF_VIEWS = [
  { id: 'progress', title: 'Progress' },
  { id: 'changes', title: 'Changes' },
  { id: 'files', title: 'Code and files' },
] as const;
export type HandOffView = (typeof HAND_OFF_VIEWS)[number]['id'];

export type HandOffPlace =
  | { readonly is: 'view'; readonly view: HandOffView }
  | { readonly is: 'source'; readonly sourceId: Id }
  | { readonly is: 'event'; readonly eventId: Id | undefined; readonly sourceId: Id | undefined };

/** The place that an item names: `view:progress`, `source:web`, or an event and the source that is looked at. */
export const handOffPlace = (item: string | undefined): HandOffPlace => {
  const [first, second] = partsOf(item);
  const view = first === 'view' ? HAND_OFF_VIEWS.find((v) => v.id === second)?.id : undefined;
  if (view !== undefined) return { is: 'view', view };
  if (first === 'source' && second !== undefined) return { is: 'source', sourceId: second };
  return { is: 'event', eventId: first, sourceId: second };
};
