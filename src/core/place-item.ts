/** What is selected at a station, as the address says it: parts with colons between them; a colon and a per cent sign within a part are escaped. */

const escaped = (part: string): string => part.replaceAll('%', '%25').replaceAll(':', '%3A');
const unescaped = (part: string): string => part.replaceAll('%3A', ':').replaceAll('%25', '%');

export const itemOf = (...parts: readonly string[]): string => parts.map(escaped).join(':');
export const partsOf = (item: string | undefined): readonly string[] => (item === undefined ? [] : item.split(':').map(unescaped));

/** What can be in a path as it is. All else, such as the key of a finding or an address in an identifier, follows as a query: a server may
 *  take a path with dots and quotation marks for a file that it does not have.
 */
const PLAIN = /^[\w:-]+$/;

/** The path of a station with an item, and what follows it. */
export const pathOf = (station: string, item: string | undefined): string =>
  item === undefined ? `/${station}` : PLAIN.test(item) ? `/${station}/${item}` : `/${station}?item=${encodeURIComponent(item)}`;
