/** Case styles: how the words of a name are joined. */
import { lowerWords, properWord } from './words';

export const CASE_STYLES = [
  'Title Case',
  'Sentence case',
  'lower case',
  'snake_case',
  'camelCase',
  'PascalCase',
  'kebab-case',
  'CONSTANT_CASE',
] as const;
export type CaseStyle = (typeof CASE_STYLES)[number];

const capital = (w: string): string => properWord(w) ?? w.slice(0, 1).toUpperCase() + w.slice(1);
const upper = (w: string): string => w.slice(0, 1).toUpperCase() + w.slice(1);

const JOIN: Record<CaseStyle, (words: readonly string[]) => string> = {
  'Title Case': (w) => w.map(capital).join(' '),
  'Sentence case': (w) => w.map((x, i) => (i === 0 ? capital(x) : (properWord(x) ?? x))).join(' '),
  'lower case': (w) => w.join(' '),
  snake_case: (w) => w.join('_'),
  camelCase: (w) => w.map((x, i) => (i === 0 ? x : upper(x))).join(''),
  PascalCase: (w) => w.map(upper).join(''),
  'kebab-case': (w) => w.join('-'),
  CONSTANT_CASE: (w) => w.join('_').toUpperCase(),
};

/** The name in this style. A name without a word comes back as it is. */
export const toCase = (name: string, style: CaseStyle): string => {
  const words = lowerWords(name);
  return words.length === 0 ? name : JOIN[style](words);
};

/** Joins words that are already split. */
export const joinWords = (words: readonly string[], style: CaseStyle): string => JOIN[style](words.map((w) => w.toLowerCase()));

/** Whether the name keeps the style. Acronyms in capitals are allowed where a word may start with a capital. */
export const keepsCase = (name: string, style: CaseStyle): boolean => {
  const key = `${style}\0${name}`;
  let known = remembered.get(key);
  if (known === undefined) {
    if (remembered.size >= MAX_REMEMBERED) remembered.clear();
    remembered.set(key, (known = judged(name, style)));
  }
  return known;
};

const MAX_REMEMBERED = 20_000;
/** The same names are asked about after each edit. */
const remembered = new Map<string, boolean>();

const judged = (name: string, style: CaseStyle): boolean => {
  if (name === toCase(name, style)) return true;
  if (style !== 'Title Case' && style !== 'Sentence case') return false;
  const parts = name.split(' ');
  return parts.every((p, i) => {
    if (/^[\p{Lu}\p{N}]{2,}$/u.test(p)) return true;
    const styled = style === 'Title Case' || i === 0 ? capital(p.toLowerCase()) : p.toLowerCase();
    return p === styled && /^[\p{L}\p{N}\p{M}]+$/u.test(p);
  });
};
