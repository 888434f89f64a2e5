/** Personal data told by its form, against reference packages and published numbers. */
import fc from 'fast-check';
import { isValidIBAN } from 'ibantools';
import { findPhoneNumbersInText } from 'libphonenumber-js';
import { expect, test } from 'vitest';
import validator from 'validator';
import { passesIban, passesLuhn, personalDataIn } from '../../src/core/arrival/personal-data';

const digits = (length: number) => fc.stringMatching(new RegExp(`^\\d{${length}}$`));

test('Luhn: the published example, and as validator 13 has it for any digits', () => {
  // The worked example of Luhn's formula, quoted from memory.
  expect(passesLuhn('79927398713')).toBe(true);
  expect(passesLuhn('79927398710')).toBe(false);
  fc.assert(
    fc.property(fc.integer({ min: 12, max: 19 }).chain(digits), (text) => {
      expect(passesLuhn(text)).toBe(validator.isLuhnNumber(text));
    }),
    { numRuns: 2000, seed: 4 },
  );
});

test('IBAN: the published example, and as ibantools 4 has the check digits', () => {
  // The United Kingdom's example in the IBAN registry, quoted from memory.
  expect(passesIban('GB82WEST12345698765432')).toBe(true);
  for (let d = 0; d < 100; d++) {
    const iban = `DE${String(d).padStart(2, '0')}370400440532013000`;
    // 00, 01 and 99 are never given out; ibantools and the arithmetic alone agree on all others.
    if (d > 1 && d < 99) expect(passesIban(iban), iban).toBe(isValidIBAN(iban));
  }
});

test.each([
  // Test numbers of card networks, common practice, quoted from memory.
  ['4111 1111 1111 1111', 'payment card number'],
  ['paid with 5555-5555-5555-4444 today', 'payment card number'],
  ['378282246310005', 'payment card number'],
  ['4111 1111 1111 1112', undefined],
  ['GB82 WEST 1234 5698 7654 32', 'bank account number'],
  ['to DE89370400440532013000 please', 'bank account number'],
  ['DE88370400440532013000', undefined],
  // Source: RFC 2606, names for examples.
  ['write to jo.o+x@mail.example.org', 'e-mail address'],
  ['a@b', undefined],
  ['@home', undefined],
  // Numbers set aside for fiction: Ofcom (United Kingdom), NANPA 555-01xx; quoted from memory.
  ['call +44 20 7946 0958', 'telephone number'],
  ['(020) 7946 0958', 'telephone number'],
  ['+1 (202) 555-0123', 'telephone number'],
  // What only looks like it.
  ['T-0412', undefined],
  ['2026-11-23', undefined],
  ['2026-11-23T10:11:12.123Z', undefined],
  ['1732357872123', undefined],
  ['123e4567-e89b-12d3-a456-426614174000', undefined],
  ['8.2.1', undefined],
  ['192.168.100.200', undefined],
  ['Cable is loose', undefined],
] as const)('“%s” is %s', (text, kind) => {
  expect(personalDataIn(text)).toBe(kind);
});

test('addresses that validator 13 takes for e-mail are found; a telephone that is found is one to libphonenumber', () => {
  const part = fc.stringMatching(/^[a-z0-9][a-z0-9._+-]{0,12}[a-z0-9]$/).filter((s) => !s.includes('..'));
  fc.assert(
    fc.property(part, fc.stringMatching(/^[a-z][a-z0-9]{0,10}$/), fc.constantFrom('org', 'com', 'de', 'museum'), (local, host, top) => {
      const address = `${local}@${host}.${top}`;
      if (validator.isEmail(address)) expect(personalDataIn(`see ${address} now`)).toBe('e-mail address');
    }),
    { numRuns: 500, seed: 5 },
  );
  for (const text of ['+44 20 7946 0958', '+1 202 555 0123', '+49 30 901820', '+33 1 42 68 53 00']) {
    expect(personalDataIn(text)).toBe('telephone number');
    expect(findPhoneNumbersInText(text)).toHaveLength(1);
  }
});
