/** The name that goes over the wire where somebody points: exactly as it is, without blanks around it. */

interface Like {
  readonly closest: (selector: string) => Like | null;
  readonly querySelector: (selector: string) => Like | null;
  readonly matches: (selector: string) => boolean;
  readonly textContent: string | null;
}

const WIRE = '.wire';
/** Where a double press means something else, or more than a name stands. */
const OTHER = 'input, textarea, select, pre, [role=grid], [contenteditable=true]';
const MAX_NAME = 1000;

/** The name at an element: of the wire name that it is in, or that it holds; `undefined` where there is none. */
export const wireNameAt = (e: Like | null | undefined): string | undefined => {
  if (!e || e.closest(OTHER)) return undefined;
  const own = e.closest(WIRE) ?? e.querySelector(WIRE);
  if (!own || own.matches(OTHER) || own.closest(OTHER)) return undefined;
  const name = own.textContent?.trim() ?? '';
  return name === '' || name.length > MAX_NAME ? undefined : name;
};
