/** Keeps the focus where the work is: when what has it goes away, or can't be used for a while, it passes to what stands nearest, never to the
 *  body, from where a keyboard would begin at the top of the page again.
 */

/** Whoever takes the focus on purpose does so sooner. Units: ms. */
const GIVEN_MS = 60;
/** What is busy is usually free again by then. Units: ms. */
const BUSY_MS = 1500;

/** Never a field: what is meant as a shortcut would be written into it. */
const FOCUSABLE = 'a[href], button, summary, input[type="checkbox"], input[type="radio"], [tabindex]:not([tabindex="-1"], input, textarea)';

const isUsable = (el: Element): el is HTMLElement =>
  el instanceof HTMLElement &&
  el.isConnected &&
  !el.matches(':disabled, [aria-hidden="true"] *, [inert] *') &&
  el.getClientRects().length > 0 &&
  getComputedStyle(el).visibility !== 'hidden';

const firstIn = (el: Element): HTMLElement | undefined =>
  [el, ...el.querySelectorAll(FOCUSABLE)].find((x) => x.matches(FOCUSABLE) && isUsable(x)) as HTMLElement | undefined;

/** Where an element stood: from the inside out, what it was within and what stood beside it. */
type Place = readonly { readonly within: Element; readonly after: Element | null; readonly before: Element | null }[];

const placeOf = (el: Element): Place => {
  const out: Place[number][] = [];
  for (let x: Element = el; x.parentElement; x = x.parentElement)
    out.push({ within: x.parentElement, before: x.previousElementSibling, after: x.nextElementSibling });
  return out;
};

/** The nearest that is still there: what came after it, else before it, else the first of what it was within. */
const nearest = (place: Place): HTMLElement | undefined => {
  for (const { within, after, before } of place) {
    if (!within.isConnected) continue;
    for (const beside of [after, before]) {
      const found = beside?.isConnected && within.contains(beside) ? firstIn(beside) : undefined;
      if (found) return found;
    }
    const found = within === document.body ? undefined : (firstIn(within.querySelector('[role="grid"]') ?? within) ?? firstIn(within));
    if (found) return found;
  }
  return firstIn(document.querySelector('main') ?? document.body);
};

/** Begins to keep the focus. What comes back ends it. */
export const keepFocus = (): (() => void) => {
  let had: { readonly el: HTMLElement; readonly place: Place } | undefined;
  let waiting = false;
  const isGone = (): boolean => had !== undefined && (!had.el.isConnected || had.el.matches(':disabled'));
  const settle = (busyUntil: number): void => {
    waiting = false;
    if (!had || document.activeElement !== document.body) return;
    const { el, place } = had;
    const isThere = el.isConnected;
    // What was busy or hidden is free again.
    if (isUsable(el)) el.focus({ preventScroll: true });
    else if (isThere && performance.now() < busyUntil) later(busyUntil);
    else nearest(place)?.focus({ preventScroll: true });
  };
  const later = (busyUntil: number): void => {
    waiting = true;
    setTimeout(() => settle(busyUntil), GIVEN_MS);
  };
  const look = (): void => {
    if (!waiting && isGone()) later(performance.now() + BUSY_MS);
  };
  let byKey = false;
  const typed = (): void => {
    byKey = true;
    setTimeout(() => (byKey = false));
  };
  /** Who leaves a field with a key rests beside it: Tab goes on from there, and a letter is a shortcut. A click beside everything leaves for
   *  nowhere on purpose.
   */
  const left = ({ target }: FocusEvent): void => {
    const isByKey = byKey;
    setTimeout(() => {
      if (!had || target !== had.el || document.activeElement !== document.body) return;
      // Hidden, as a station is while the next one loads.
      if (!isUsable(had.el)) {
        if (!waiting) later(performance.now() + BUSY_MS);
        return;
      }
      const beside = had.el.parentElement;
      had = undefined;
      if (!isByKey || !beside || !document.hasFocus()) return;
      if (!beside.hasAttribute('tabindex')) {
        beside.tabIndex = -1;
        beside.dataset['rest'] = '';
      }
      beside.focus({ preventScroll: true });
    });
  };
  const note = ({ target }: FocusEvent): void => {
    if (target instanceof HTMLElement && target !== document.body) had = { el: target, place: placeOf(target) };
  };
  const watch = new MutationObserver(look);
  watch.observe(document.body, { childList: true, subtree: true, attributes: true, attributeFilter: ['disabled'] });
  document.addEventListener('focusin', note);
  document.addEventListener('focusout', left);
  document.addEventListener('keydown', typed, true);
  return () => {
    watch.disconnect();
    document.removeEventListener('focusin', note);
    document.removeEventListener('focusout', left);
    document.removeEventListener('keydown', typed, true);
  };
};
