/** What is cut with dots has its whole text where the pointer rests on it, wherever it stands: one place for all lists, so that none is forgotten. */

const DEEP = 4;

/** The element that cuts what is pointed at, if one does. */
const cutting = (from: Element | null): HTMLElement | undefined => {
  let el = from;
  for (let i = 0; el instanceof HTMLElement && i < DEEP; i++, el = el.parentElement)
    if (getComputedStyle(el).textOverflow === 'ellipsis') return el;
  return undefined;
};

/** Begins; what it gives back ends it. */
export const showWholeText = (): (() => void) => {
  const onOver = ({ target }: PointerEvent): void => {
    const el = target instanceof Element ? cutting(target) : undefined;
    if (!el) return;
    const isCut = el.scrollWidth > el.clientWidth;
    // A title that somebody wrote says more than the text.
    if (isCut && el.title === '') {
      el.title = el.textContent.trim();
      el.dataset['whole'] = '';
    } else if (el.dataset['whole'] !== undefined && (!isCut || el.title !== el.textContent.trim())) {
      el.title = isCut ? el.textContent.trim() : '';
      if (!isCut) delete el.dataset['whole'];
    }
  };
  document.addEventListener('pointerover', onOver);
  return () => document.removeEventListener('pointerover', onOver);
};
