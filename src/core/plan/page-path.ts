/** Addresses of pages, compared segment by segment. */

/** The segments of a page's path, without the query and the fragment; of a whole address those behind its host. */
export const segmentsOf = (page: string): string[] =>
  page
    .replace(/^[a-z][a-z0-9+.-]*:\/\/[^/?#]*/i, '')
    .replace(/[?#].*$/s, '')
    .split('/')
    .filter((s) => s !== '');

/** Whether a page lies under a path: `/donate` holds `/donate` and `/donate/thanks`, not `/donated-items`. A path of no segment holds all. */
export const isUnder = (page: string, scope: string): boolean => {
  const wanted = segmentsOf(scope);
  const own = segmentsOf(page);
  return wanted.every((s, i) => own[i] === s);
};
