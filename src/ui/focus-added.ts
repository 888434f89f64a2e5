/** Where the focus goes when something was added or made: there, not nowhere. */

const CAN_TAKE_IT = 'button:not([disabled]), input, select, textarea';

/** Adds to a sentence, and puts the focus on the beginning of what is new before the button that added it.
 *  Shape: the sentence is `data-sentence`, and each line of it `data-line`.
 */
export const focusAdded = (button: Element, add: () => void): void => {
  const sentence = button.closest('[data-sentence]');
  const all = (within: Element): HTMLElement[] => [...within.querySelectorAll<HTMLElement>(CAN_TAKE_IT)];
  const before = new Set(sentence ? all(sentence) : []);
  add();
  if (!sentence) return;
  requestAnimationFrame(() => {
    const added = all(sentence).filter((e) => !before.has(e));
    const last = added.findLast((e) => button.compareDocumentPosition(e) & Node.DOCUMENT_POSITION_PRECEDING) ?? added.at(-1);
    const line = last?.closest('[data-line]');
    (added.find((e) => line?.contains(e)) ?? last)?.focus();
  });
};

let wanted = '';

/** What is made now is to have the focus when it is shown. */
export const wantFocus = (id: string): void => {
  wanted = id;
};

/** Whether it was made just now. What is drawn anew before it is shown asks again. */
export const takesFocus = (id: string): boolean => wanted === id;

/** It is shown. */
export const focusTaken = (id: string): void => {
  if (wanted === id) wanted = '';
};
