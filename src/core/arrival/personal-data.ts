/** Personal data in a text, told by its form. */

export type PersonalData = 'e-mail address' | 'payment card number' | 'bank account number' | 'telephone number';

const AT = 64;
const MIN_DIGITS = 7;
const MIN_LENGTH = 6;

/** Seven digits, whatever is between them. */
const SEVEN_DIGITS = /\d(?:\D*\d){6}/;
const SHORT = 12;

/** Whether a text is worth a closer look: cheap to ask, and true of every text that `personalDataIn` finds something in.
 *  Short texts are looked through here, which is faster than the call.
 */
export const mayBePersonal = (text: string): boolean => {
  if (text.length < MIN_LENGTH) return false;
  // One after the other: an alternative in the pattern would be tried at every letter.
  if (text.length > SHORT) return text.includes('@') || SEVEN_DIGITS.test(text);
  let digits = 0;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    if (c === AT) return true;
    if (c >= 48 && c <= 57) digits++;
  }
  return digits >= MIN_DIGITS;
};

/** Enough of RFC 5322's addr-spec for what people type; not quoted local parts. */
const EMAIL = /[A-Za-z0-9.!#$%&'*+/=?^_`{|}~-]{1,64}@[A-Za-z0-9](?:[A-Za-z0-9-]{0,61}[A-Za-z0-9])?(?:\.[A-Za-z0-9-]{1,63})*\.[A-Za-z]{2,}/;
const CARD = /(?<![\w.-])\d(?:[ -]?\d){12,18}(?![\w.-]*\w)/;
const IBAN = /(?<!\w)[A-Z]{2}\d\d(?: ?[A-Z0-9]{4}){2,7}(?: ?[A-Z0-9]{1,3})?(?!\w)/;
/** With a country's code, or a trunk prefix in brackets or before blanks: bare digits are too often a number of something else. */
const PHONE = /(?<![\w.+-])(?:\+\d{1,3}|00\d{2}|\(0\d{1,5}\)|0\d{2,5}[ /-])[ ()/-]{0,2}\d(?:[ ()./-]{0,2}\d){5,12}(?!\w)/;

/** Whether digits have the check digit of a payment card. Source: ISO/IEC 7812-1, annex B (the Luhn formula). */
export const passesLuhn = (digits: string): boolean => {
  let sum = 0;
  for (let i = 0; i < digits.length; i++) {
    const d = digits.charCodeAt(digits.length - 1 - i) - 48;
    sum += i % 2 === 0 ? d : d > 4 ? 2 * d - 9 : 2 * d;
  }
  return digits.length > 0 && sum % 10 === 0;
};

/** Whether a text without blanks has the check digits of an IBAN. Source: ISO 13616-1 with ISO/IEC 7064, MOD 97-10. */
export const passesIban = (iban: string): boolean => {
  let rest = 0;
  for (const c of iban.slice(4) + iban.slice(0, 4)) {
    const v = parseInt(c, 36);
    rest = (rest * (v > 9 ? 100 : 10) + v) % 97;
  }
  return rest === 1;
};

const everywhere = (p: RegExp): RegExp => new RegExp(p.source, 'g');
const [EMAILS, CARDS, IBANS, PHONES] = [EMAIL, CARD, IBAN, PHONE].map(everywhere) as [RegExp, RegExp, RegExp, RegExp];

const isIban = (m: string): boolean => m.replaceAll(' ', '').length >= 15 && passesIban(m.replaceAll(' ', ''));
const isCard = (m: string): boolean => /^[2-6]/.test(m) && passesLuhn(m.replaceAll(/[ -]/g, ''));

/** A text with the personal data in it replaced by what it is: what leaves this place must not carry it on. */
export const masked = (text: string): string =>
  mayBePersonal(text)
    ? text
        .replace(IBANS, (m) => (isIban(m) ? '‹bank account number›' : m))
        .replace(CARDS, (m) => (isCard(m) ? '‹payment card number›' : m))
        .replace(EMAILS, '‹e-mail address›')
        .replace(PHONES, '‹telephone number›')
    : text;

/** What kind of personal data a text holds; `undefined` for none that can be told by its form.
 *  Shape: the first of bank account, card, e-mail address, telephone. A card has 13 to 19 digits, begins with 2 to 6, and passes Luhn.
 */
export const personalDataIn = (text: string): PersonalData | undefined => {
  if (!mayBePersonal(text)) return undefined;
  if ((text.match(IBANS) ?? []).some(isIban)) return 'bank account number';
  if ((text.match(CARDS) ?? []).some(isCard)) return 'payment card number';
  // Without the sign the pattern would be tried at every letter.
  if (text.includes('@') && EMAIL.test(text)) return 'e-mail address';
  return PHONE.test(text) ? 'telephone number' : undefined;
};

const MAX_DEEP = 20;

export interface PersonalPlace {
  /** Where in the value, from its outside in. */
  readonly path: readonly (string | number)[];
  readonly kind: PersonalData;
}

/** The first personal data in a value of any depth, its names included; `undefined` for none. */
export const personalPlaceIn = (v: unknown, depth = 0): PersonalPlace | undefined => {
  if (typeof v === 'string') {
    const kind = mayBePersonal(v) ? personalDataIn(v) : undefined;
    return kind && { path: [], kind };
  }
  if (typeof v !== 'object' || v === null || depth > MAX_DEEP) return undefined;
  for (const [key, inner] of Object.entries(v)) {
    const found = personalPlaceIn(inner, depth + 1);
    if (found) return { ...found, path: [Array.isArray(v) ? Number(key) : key, ...found.path] };
  }
  return undefined;
};
