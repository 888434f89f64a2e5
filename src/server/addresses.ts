/** Which addresses of the network may be sent to: not those of this machine and its neighbours, unless a setting allows it. */
import { lookup, type LookupAddress } from 'node:dns';
import { BlockList, isIP, type LookupFunction } from 'node:net';

/** Source: the IANA special-purpose address registries for IPv4 and IPv6 (RFC 6890 and what amends it), and multicast (RFC 5771, RFC 4291). */
const PRIVATE = new BlockList();
for (const [net, prefix] of [
  ['0.0.0.0', 8], ['10.0.0.0', 8], ['100.64.0.0', 10], ['127.0.0.0', 8], ['169.254.0.0', 16], ['172.16.0.0', 12], ['192.0.0.0', 24], ['192.0.2.0', 24],
  ['192.168.0.0', 16], ['198.18.0.0', 15], ['198.51.100.0', 24], ['203.0.113.0', 24], ['224.0.0.0', 4], ['240.0.0.0', 4],
] as const) PRIVATE.addSubnet(net, prefix, 'ipv4'); // prettier-ignore
// IPv4-compatible (RFC 4291, 2.5.5.1) and site-local addresses (RFC 3879) are no longer given to anybody; Teredo (RFC 4380) leads to whoever a relay chooses.
for (const [net, prefix] of [
  ['::', 96], ['64:ff9b:1::', 48], ['100::', 64], ['2001::', 32], ['2001:db8::', 32], ['3fff::', 20], ['5f00::', 16], ['fc00::', 7], ['fe80::', 10],
  ['fec0::', 10], ['ff00::', 8],
] as const) PRIVATE.addSubnet(net, prefix, 'ipv6'); // prettier-ignore

/** The eight groups of an IPv6 address; its last two may be written as IPv4. */
const groupsOf = (address: string): number[] => {
  const dotted = /^(.*:)(\d+)\.(\d+)\.(\d+)\.(\d+)$/.exec(address.replace(/%.*$/, ''));
  const text = dotted
    ? `${dotted[1]}${((Number(dotted[2]) << 8) | Number(dotted[3])).toString(16)}:${((Number(dotted[4]) << 8) | Number(dotted[5])).toString(16)}`
    : address.replace(/%.*$/, '');
  const [head = '', tail] = text.split('::', 2);
  const left = head === '' ? [] : head.split(':');
  const right = tail === undefined || tail === '' ? [] : tail.split(':');
  return [...left, ...Array.from({ length: tail === undefined ? 0 : 8 - left.length - right.length }, () => '0'), ...right].map((g) =>
    parseInt(g, 16),
  );
};

/** The IPv4 address that an IPv6 one leads to: mapped (RFC 4291, 2.5.5.2), translated (RFC 2765, 2.1), by NAT64 (RFC 6052), by 6to4 (RFC 3056). */
const embedded = (address: string): string | undefined => {
  const g = groupsOf(address);
  const dotted = (i: number): string => `${g[i]! >> 8}.${g[i]! & 255}.${g[i + 1]! >> 8}.${g[i + 1]! & 255}`;
  const begins = (...groups: readonly number[]): boolean => groups.every((v, i) => g[i] === v);
  if (begins(0, 0, 0, 0, 0, 0xffff) || begins(0, 0, 0, 0, 0xffff, 0) || begins(0x64, 0xff9b, 0, 0, 0, 0)) return dotted(6);
  return g[0] === 0x2002 ? dotted(1) : undefined;
};

export const isPrivateAddress = (address: string): boolean => {
  const kind = isIP(address);
  if (kind === 0) return true;
  if (kind === 4) return PRIVATE.check(address, 'ipv4');
  const inner = embedded(address);
  return inner === undefined ? PRIVATE.check(address, 'ipv6') : PRIVATE.check(inner, 'ipv4');
};

export class NotAllowed extends Error {}

/** Whether webhooks may go to private networks: for receivers that stand beside Signal Post. */
export const privateAllowed = (): boolean => process.env['SIGNAL_POST_PRIVATE_WEBHOOKS'] === 'yes';

export const HOW_TO_ALLOW = 'Webhooks to private networks are allowed by starting Signal Post with SIGNAL_POST_PRIVATE_WEBHOOKS=yes.';

/** Finds the addresses of a name, as `dns.lookup` does with `all`. */
export type Resolver = (
  hostname: string,
  options: object,
  callback: (error: NodeJS.ErrnoException | null, found: LookupAddress[]) => void,
) => void;
const systemResolver: Resolver = (hostname, options, callback) => lookup(hostname, { ...options, all: true }, callback);

const notAllowed = (hostname: string, address: string): string => `${hostname} is ${address}, in a private network. ${HOW_TO_ALLOW}`;

/** Looks a name up as a connection does, and refuses it where it stands for a private address: what was looked at is what is connected to. */
export const publicLookupBy =
  (resolve: Resolver): LookupFunction =>
  (hostname, options, callback) => {
    resolve(hostname, options, (error, found) => {
      if (error) return callback(error, '', 0);
      const bad = found.find((a) => isPrivateAddress(a.address));
      if (bad) return callback(new NotAllowed(notAllowed(hostname, bad.address)), '', 0);
      const [first] = found;
      if (options.all) (callback as unknown as (e: null, all: LookupAddress[]) => void)(null, found);
      else callback(null, first?.address ?? '', first?.family ?? 4);
    });
  };
export const publicLookup = publicLookupBy(systemResolver);

/** What is wrong with a name when it is saved: that it stands for a private address. A name that is not found now may be there later. */
export const nameRefused = (hostname: string, resolve: Resolver = systemResolver): Promise<string | undefined> =>
  new Promise((done) => {
    resolve(hostname, {}, (error, found) => {
      const bad = error ? undefined : found.find((a) => isPrivateAddress(a.address));
      done(bad && notAllowed(hostname, bad.address));
    });
  });
