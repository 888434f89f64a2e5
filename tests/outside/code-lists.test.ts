/** Formats against the lists and examples of their standards. */
import currencyCodes from 'currency-codes';
import countries from 'i18n-iso-countries';
import { describe, expect, test } from 'vitest';
import { COUNTRIES, CURRENCIES } from '../../src/core/plan/code-lists';
import { hasFormat } from '../../src/core/plan/sample';

test('currencies are those of ISO 4217 as currency-codes 2.2 has them, and one that came after it', () => {
  const theirs = currencyCodes.codes();
  expect(theirs.length).toBeGreaterThan(170);
  expect(theirs.filter((c) => !hasFormat('currency', c))).toEqual([]);
  expect([...CURRENCIES].filter((c) => !theirs.includes(c))).toEqual(['XCG']);
  for (const wrong of ['eur', 'EURO', 'EU', 'XQZ', '978', '']) expect([wrong, hasFormat('currency', wrong)]).toEqual([wrong, false]);
});

test('countries are those of ISO 3166-1 as i18n-iso-countries 7.14 has them, without XK, which ISO leaves to its users', () => {
  const theirs = Object.keys(countries.getAlpha2Codes()).filter((c) => c !== 'XK');
  expect([...COUNTRIES].sort()).toEqual(theirs.sort());
  expect(COUNTRIES.size).toBe(249);
  for (const wrong of ['uk', 'UK', 'DEU', 'XK', 'EU', '']) expect([wrong, hasFormat('country', wrong)]).toEqual([wrong, false]);
});

describe('language tags', () => {
  // RFC 5646, appendix A: its examples of well-formed and of invalid tags, quoted from memory. Those of section 2.2.8 that are kept only
  // for their age ("i-default", "sgn-BE-FR") are left out: the platform does not read the irregular ones.
  test.each([
    ['de'],
    ['fr'],
    ['ja'],
    ['zh-Hant'],
    ['zh-Hans'],
    ['sr-Cyrl'],
    ['sr-Latn'],
    ['zh-cmn-Hans-CN'],
    ['cmn-Hans-CN'],
    ['yue-HK'],
    ['zh-Hans-CN'],
    ['sr-Latn-RS'],
    ['sl-rozaj'],
    ['sl-rozaj-biske'],
    ['sl-nedis'],
    ['de-CH-1901'],
    ['sl-IT-nedis'],
    ['hy-Latn-IT-arevela'],
    ['de-DE'],
    ['en-US'],
    ['es-419'],
    ['de-CH-x-phonebk'],
    ['az-Arab-x-aze-derbend'],
    ['en-US-u-islamcal'],
    ['zh-CN-a-myext-x-private'],
    ['en-a-myext-b-another'],
  ])('%s is one', (tag) => {
    // Extended language subtags (RFC 5646, 2.2.2) are not in the grammar of Unicode locale identifiers, which the platform reads.
    expect(hasFormat('language', tag)).toBe(tag !== 'zh-cmn-Hans-CN');
  });
  test.each([['de-419-DE'], ['a-DE'], ['ar-a-aaa-b-bbb-a-ccc'], ['en_US'], ['english please'], ['']])('“%s” is none', (tag) => {
    expect(hasFormat('language', tag)).toBe(false);
  });
});
