/** From which address a request came; known to the entry alone, which leaves it here for the few that ask. */
/** An IPv4 address within IPv6 is that address. Source: RFC 4291, 2.5.5.2. */
export const plainAddress = (address: string): string => address.replace(/^::ffff:(?=\d+\.)/i, '');

const addresses = new WeakMap<Request, string>();

export const noteCaller = (request: Request, address: string): Request => {
  addresses.set(request, plainAddress(address));
  return request;
};

/** Empty where nobody noted it. */
export const callerOf = (request: Request): string => addresses.get(request) ?? '';
