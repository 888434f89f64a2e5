/** From which address a request came: the entry (`server.mjs`) works it out from the connection and the proxies that were named, and leaves it in a header
 *  that nobody outside can set.
 */
const CALLER = 'x-signal-post-caller';

/** An IPv4 address within IPv6 is that address. Source: RFC 4291, 2.5.5.2. */
export const plainAddress = (address: string): string => address.replace(/^::ffff:(?=\d+\.)/i, '');

/** Empty where nobody noted it. */
export const callerOf = ({ headers }: { readonly headers: Headers }): string => plainAddress(headers.get(CALLER) ?? '');
