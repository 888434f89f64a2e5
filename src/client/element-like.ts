/** An element of a page, as the core reads it. */
import { pressedAt, type ElementLike } from '../core/definitions/element';

/** By its node type, since a page in a frame has element classes of its own. */
const isElement = (t: EventTarget | null | undefined): t is Element => (t as Node | null | undefined)?.nodeType === 1;

export const likeOf = (t: EventTarget | null | undefined): ElementLike | undefined =>
  isElement(t)
    ? {
        tag: t.tagName.toLowerCase(),
        attribute: (name) => t.getAttribute(name) ?? undefined,
        // As it is laid out: blocks are words apart.
        text: (t as HTMLElement).innerText ?? t.textContent,
        get parent() {
          return likeOf(t.parentElement);
        },
      }
    : undefined;

/** What is pressed where something was hit. */
export const pressedElement = (hit: EventTarget | null): HTMLElement | undefined => {
  for (let e = isElement(hit) ? (hit as HTMLElement) : null; e; e = e.parentElement)
    if (pressedAt({ ...likeOf(e)!, parent: undefined })) return e;
  return undefined;
};
