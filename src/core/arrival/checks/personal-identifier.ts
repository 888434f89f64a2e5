import { defineMessageCheck } from '../check';
import { mayBePersonal, personalDataIn, type PersonalData } from '../personal-data';
import { aOrAn } from './personal-data';

export interface PersonalIdentifier {
  readonly kind: string;
  readonly data: PersonalData;
}

export const personalIdentifier = defineMessageCheck({
  id: 'personal-identifier',
  on: 'identifier',
  title: 'Personal data as an identifier',
  why: 'It may change, so one person becomes two; and it spreads to every place that keeps an identifier.',
  example: { wrong: '`"user": "ada@example.org"`', right: '`"user": "m-7"`' },
  severity: 'stop',
  shows: 'ids',
  fixer: () => 'source',
  expected: (p: PersonalIdentifier) => `a ${p.kind} ID that tells nothing about the person`,
  received: (p: PersonalIdentifier) => aOrAn(p.data),
  message: (p: PersonalIdentifier) => `came with ${aOrAn(p.data)} as its ${p.kind} ID`,
  cause: () => 'The source has no access to the right identifier and sends what it has.',
  fix: (p: PersonalIdentifier) => `Send the ${p.kind} ID of the plan; give the source a way to look it up.`,
  compile: () => (planned) =>
    planned.personalData
      ? undefined
      : (value, kind) => {
          if (!hasAt(value) && !(mayBeAddress(value) && mayBePersonal(value))) return undefined;
          const data = personalDataIn(value);
          // Bare digits may be anything; what has the form of an address, an account or a telephone is that.
          const isPersonal =
            data === 'e-mail address' || data === 'bank account number' || (data === 'telephone number' && /^[+(]/.test(value.trim()));
          return isPersonal ? { kind, data } : undefined;
        },
});

const AT = 64;
const PLUS = 43;
const BRACKET = 40;
const BLANK = 32;

/** Short texts are looked through here, which is faster than the call. */
const hasAt = (s: string): boolean => {
  if (s.length > 8) return s.includes('@');
  for (let i = 0; i < s.length; i++) if (s.charCodeAt(i) === AT) return true;
  return false;
};

const ACCOUNT_START = /[A-Z]{2}\d\d/;
/** Whether an identifier without an @ may be a telephone or an account at all: most are not, and end here. */
const mayBeAddress = (value: string): boolean => {
  const c = value.charCodeAt(0);
  return c === PLUS || c === BRACKET || c <= BLANK || c > 126 || ACCOUNT_START.test(value);
};
