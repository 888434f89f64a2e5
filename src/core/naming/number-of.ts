/** Singular and plural of a word. */
import pluralize from 'pluralize';

/** Words whose plural form is their usual one in names. */
const NEVER = new Set(['settings', 'news', 'series', 'details', 'status', 'address', 'access', 'process', 'progress', 'class', 'basis']);

/** The singular of a word; the word itself where it is one, or is used in the plural alone.
 *  Source: rules of the package pluralize 8. Limits: English words only.
 */
export const singularOf = (word: string): string => (NEVER.has(word) || word.length < 4 ? word : pluralize.singular(word));
