/** Raw interactions: what is pressed on a page. What somebody writes into a field is never read. */
import { likeOf } from '../../../src/client/element-like';
import { elementOf, pressedAt } from '../../../src/core/definitions/element';

export type PressedElement = ReturnType<typeof elementOf>;

/** Tells of each press inside of an element, before the page does anything about it; the answer ends it.
 *  Shape: an element with `data-private`, and what is inside of one, tells its role and place alone. `attributes` are those by which the page names its parts, besides `data-part`.
 */
export const watchInteractions = (
  within: EventTarget,
  tell: (e: PressedElement) => void,
  attributes: readonly string[] = [],
): (() => void) => {
  const hear = (e: Event): void => {
    const pressed = pressedAt(likeOf(e.target), attributes);
    if (!pressed) return;
    const element = elementOf(pressed, attributes);
    const isPrivate = (e.target as Element).closest?.('[data-private]') != null;
    tell(isPrivate ? { text: '', role: element.role, place: element.place } : element);
  };
  within.addEventListener('click', hear, true);
  return () => within.removeEventListener('click', hear, true);
};
