/** Raw interactions: what is pressed on a page. What somebody writes into a field is never read. */
import { likeOf } from '../../../src/client/element-like';
import { elementOf, pressedAt } from '../../../src/core/definitions/element';

export type PressedElement = ReturnType<typeof elementOf>;

/** Tells of each press inside of an element, before the page does anything about it; the answer ends it.
 *  Shape: an element with `data-private`, and what is inside of one, tells its place alone.
 */
export const watchInteractions = (within: EventTarget, tell: (e: PressedElement) => void): (() => void) => {
  const hear = (e: Event): void => {
    const pressed = pressedAt(likeOf(e.target));
    if (!pressed) return;
    const element = elementOf(pressed);
    const isPrivate = (e.target as Element).closest?.('[data-private]') != null;
    tell(isPrivate ? { ...element, text: '' } : element);
  };
  within.addEventListener('click', hear, true);
  return () => within.removeEventListener('click', hear, true);
};
