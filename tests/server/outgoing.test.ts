/** Where may be sent to: names by a resolver of the test's own, so that nobody is asked and nothing is sent. */
import type { LookupAddress } from 'node:dns';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { isPrivateAddress, nameRefused, publicLookupBy, type Resolver } from '../../src/server/addresses';
import { webhookRefusedNow } from '../../src/server/webhook';

const resolver =
  (known: { readonly [name: string]: readonly string[] }): Resolver =>
  (name, _, done) => {
    const found = known[name];
    if (!found) done(Object.assign(new Error('not found'), { code: 'ENOTFOUND' }), []);
    else done(null, found.map((address): LookupAddress => ({ address, family: address.includes(':') ? 6 : 4 }))); // prettier-ignore
  };
const known = resolver({
  'inside.example': ['10.1.2.3'],
  'both.example': ['1.1.1.1', '127.0.0.1'],
  'six.example': ['2002:7f00:1::1'],
  'outside.example': ['1.1.1.1', '2606:4700::1111'],
});

describe('an address that is to be kept', () => {
  test.each([
    ['https://inside.example/x', 'inside.example is 10.1.2.3, in a private network.'],
    ['https://both.example/x', 'both.example is 127.0.0.1, in a private network.'],
    ['http://six.example', 'six.example is 2002:7f00:1::1, in a private network.'],
    ['http://[::ffff:7f00:1]/', '::ffff:7f00:1 is in a private network.'],
    ['http://[2002:a00:1::]/', '2002:a00:1:: is in a private network.'],
    ['ftp://outside.example', 'begins with https://'],
  ])('%s is refused', async (address, why) => expect(await webhookRefusedNow(address, known)).toContain(why));
  test('a public one, and a name that is not found now, are kept', async () => {
    expect(await webhookRefusedNow('https://outside.example/x', known)).toBeUndefined();
    expect(await webhookRefusedNow('https://later.example/x', known)).toBeUndefined();
    expect(await nameRefused('later.example', known)).toBeUndefined();
  });
});

test('what is looked up for a connection is refused when it changed to a private address since', async () => {
  const looked = (name: string, all: boolean) =>
    new Promise<unknown>((done) => publicLookupBy(known)(name, { all }, (e, address) => done(e?.message ?? address)));
  expect(await looked('inside.example', false)).toContain('in a private network');
  expect(await looked('outside.example', false)).toBe('1.1.1.1');
  expect(await looked('outside.example', true)).toHaveLength(2);
  expect(await looked('later.example', false)).toBe('not found');
});

test('at random: an IPv6 address that leads to an IPv4 one is as private as that, however it is written', () => {
  const byte = fc.integer({ min: 0, max: 255 });
  fc.assert(
    fc.property(byte, byte, byte, byte, (a, b, c, d) => {
      const v4 = [a, b, c, d].join('.');
      const [high, low] = [((a << 8) | b).toString(16), ((c << 8) | d).toString(16)];
      const is = isPrivateAddress(v4);
      for (const v6 of [
        `::ffff:${v4}`,
        `::ffff:${high}:${low}`,
        `0:0:0:0:0:ffff:${high}:${low}`,
        `::ffff:0:${v4}`,
        `64:ff9b::${v4}`,
        `64:ff9b::${high}:${low}`,
        `2002:${high}:${low}::1`,
        `2002:${high}:${low}:0:0:0:0:1`,
      ])
        // prettier-ignore
        expect([v6, isPrivateAddress(v6)]).toEqual([v6, is]);
      expect(isPrivateAddress(`::${v4}`)).toBe(true);
    }),
  );
});
