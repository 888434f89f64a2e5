/** Which addresses of the network may be sent to: not those of this machine and its neighbours, unless a setting allows it. */
import { lookup, type LookupAddress } from 'node:dns';
import { BlockList, isIP, type LookupFunction } from 'node:net';

/** Source: the IANA special-purpose address registries for IPv4 and IPv6 (RFC 6890 and what amends it), and multicast (RFC 5771, RFC 4291). */
const PRIVATE = new BlockList();
for (const [net, prefix] of [
  ['0.0.0.0', 8], ['10.0.0.0', 8], ['100.64.0.0', 10], ['127.0.0.0', 8], ['169.254.0.0', 16], ['172.16.0.0', 12], ['192.0.0.0', 24], ['192.0.2.0', 24],
  ['192.168.0.0', 16], ['198.18.0.0', 15], ['198.51.100.0', 24], ['203.0.113.0', 24], ['224.0.0.0', 4], ['240.0.0.0', 4],
] as const) PRIVATE.addSubnet(net, prefix, 'ipv4'); // prettier-ignore
for (const [net, prefix] of [
  ['::', 128], ['::1', 128], ['64:ff9b:1::', 48], ['100::', 64], ['2001:db8::', 32], ['fc00::', 7], ['fe80::', 10], ['ff00::', 8],
] as const) PRIVATE.addSubnet(net, prefix, 'ipv6'); // prettier-ignore

/** IPv4 within IPv6: mapped (RFC 4291, 2.5.5.2), and the well-known prefix of NAT64 (RFC 6052). The list looks through the former by itself. */
const embedded = (address: string): string | undefined => {
  const dotted = /^64:ff9b::(\d+\.\d+\.\d+\.\d+)$/i.exec(address)?.[1];
  if (dotted !== undefined) return dotted;
  const hex = /^64:ff9b::([\da-f]{1,4}):([\da-f]{1,4})$/i.exec(address);
  if (!hex) return undefined;
  const [high, low] = [parseInt(hex[1]!, 16), parseInt(hex[2]!, 16)];
  return `${high >> 8}.${high & 255}.${low >> 8}.${low & 255}`;
};

export const isPrivateAddress = (address: string): boolean => {
  const kind = isIP(address);
  if (kind === 0) return true;
  const inner = embedded(address);
  return PRIVATE.check(address, kind === 4 ? 'ipv4' : 'ipv6') || (inner !== undefined && PRIVATE.check(inner, 'ipv4'));
};

export class NotAllowed extends Error {}

/** Whether webhooks may go to private networks: for receivers that stand beside Signal Post. */
export const privateAllowed = (): boolean => process.env['SIGNAL_POST_PRIVATE_WEBHOOKS'] === 'yes';

export const HOW_TO_ALLOW = 'Webhooks to private networks are allowed by starting Signal Post with SIGNAL_POST_PRIVATE_WEBHOOKS=yes.';

/** Looks a name up as a connection does, and refuses it where it stands for a private address: what was looked at is what is connected to. */
export const publicLookup: LookupFunction = (hostname, options, callback) => {
  lookup(hostname, { ...options, all: true }, (error, found: LookupAddress[]) => {
    if (error) return callback(error, '', 0);
    const bad = found.find((a) => isPrivateAddress(a.address));
    if (bad) return callback(new NotAllowed(`${hostname} is ${bad.address}, in a private network. ${HOW_TO_ALLOW}`), '', 0);
    const [first] = found;
    if (options.all) (callback as unknown as (e: null, all: LookupAddress[]) => void)(null, found);
    else callback(null, first?.address ?? '', first?.family ?? 4);
  });
};
