/** Patterns of the plan: ECMAScript's syntax, since schemas hand them on, matched in a time that grows with the text alone, since anybody may write
 *  one and every message is matched.
 *  Sources: ECMA-262, RegExp with the flag u, for the syntax and the meaning; the package re2js for the matching, which has no backtracking.
 */
import { RE2JS } from 're2js';
import { plainItems } from './plain-pattern';

export interface Pattern {
  /** Whether it is found anywhere in a text. */
  readonly test: (text: string) => boolean;
}

export type ReadPattern = { readonly ok: true; readonly pattern: Pattern } | { readonly ok: false; readonly detail: string };

export const MAX_PATTERN = 500;
/** States and steps; a longer program takes as long for each character. */
const MAX_PROGRAM = 5000;

const hex = (code: number): string => `\\x{${code.toString(16)}}`;
/** WhiteSpace and LineTerminator of ECMA-262, which \s means. */
const SPACE = '\\t\\n\\x{b}\\f\\r \\x{a0}\\x{1680}\\x{2000}-\\x{200a}\\x{2028}\\x{2029}\\x{202f}\\x{205f}\\x{3000}\\x{feff}';
const LINE_END = '\\n\\r\\x{2028}\\x{2029}';

class NotCovered extends Error {}

/** An escape, written as the matcher has it; `from` is that of the backslash. */
const escapeAt = (source: string, from: number, inClass: boolean): { readonly text: string; readonly to: number } => {
  const rest = source.slice(from);
  const unicode = /^\\u(?:\{([0-9a-fA-F]+)\}|(d[89ab][0-9a-f]{2})\\u(d[c-f][0-9a-f]{2})|([0-9a-fA-F]{4}))/i.exec(rest);
  if (unicode) {
    const [whole, braced, high, low, four] = unicode;
    const code =
      high === undefined ? parseInt(braced ?? four!, 16) : ((parseInt(high, 16) - 0xd800) << 10) + (parseInt(low!, 16) - 0xdc00) + 0x10000;
    if (code >= 0xd800 && code <= 0xdfff) throw new NotCovered('half a surrogate pair is no character');
    return { text: hex(code), to: from + whole.length };
  }
  const category = /^\\([pP])\{(?:(Script|sc|Script_Extensions|scx|General_Category|gc)=)?(\w+)\}/.exec(rest);
  if (category) {
    if (category[2]?.startsWith('Script_E') || category[2] === 'scx')
      throw new NotCovered('script extensions are not covered; name the script');
    return { text: `\\${category[1]}{${category[3]}}`, to: from + category[0].length };
  }
  const next = source[from + 1]!;
  const two = from + 2;
  if (next === 'c') return { text: hex(source.charCodeAt(two) % 32), to: two + 1 };
  if (next === '0') return { text: '\\x{0}', to: two };
  if (next === 's') return { text: inClass ? SPACE : `[${SPACE}]`, to: two };
  if (next === 'S') {
    if (inClass) throw new NotCovered('\\S within brackets is not covered');
    return { text: `[^${SPACE}]`, to: two };
  }
  if (next === 'b' && inClass) return { text: '\\x{8}', to: two };
  if (/[1-9]/.test(next) || next === 'k') throw new NotCovered('it looks back at a group (such as \\1)');
  return { text: source.slice(from, two), to: two };
};

/** The same pattern in the matcher's syntax. The source is one of ECMA-262. */
const translated = (source: string): string => {
  let out = '';
  let inClass = false;
  for (let i = 0; i < source.length;) {
    const c = source[i]!;
    if (c === '\\') {
      const { text, to } = escapeAt(source, i, inClass);
      out += text;
      i = to;
      continue;
    }
    if (inClass) {
      inClass = c !== ']';
      out += c === '[' ? '\\[' : c;
    } else if (c === '[') {
      if (source.startsWith('[]', i)) throw new NotCovered('[] fits nothing');
      if (source.startsWith('[^]', i)) {
        out += '[\\x{0}-\\x{10ffff}]';
        i += 3;
        continue;
      }
      inClass = true;
      out += c;
    } else if (c === '.') out += `[^${LINE_END}]`;
    else if (/^\(\?<?[=!]/.test(source.slice(i, i + 4))) throw new NotCovered('it looks ahead or back (such as (?=…) or (?<!…))');
    else out += c;
    i++;
  }
  return out;
};

const read = (source: string): ReadPattern => {
  if (source.length > MAX_PATTERN) return { ok: false, detail: `A pattern has at most ${MAX_PATTERN} characters.` };
  let own: RegExp;
  try {
    own = new RegExp(source, 'u');
  } catch (e) {
    return { ok: false, detail: `“${source}” is no regular expression: ${(e as Error).message.split(': ').at(-1)!}.` };
  }
  try {
    const program = RE2JS.compile(translated(source));
    if (program.programSize() > MAX_PROGRAM)
      return { ok: false, detail: `“${source}” repeats too much to be matched against every message; make its counts smaller.` };
    // Most patterns are plain, and most messages go through some: the engine's own matcher is many times as fast, and on these as safe.
    return { ok: true, pattern: plainItems(source) ? own : { test: (text) => program.test(text) } };
  } catch (e) {
    const why = e instanceof NotCovered ? e.message : (e as Error).message.replace(/^error parsing regexp: /, '');
    return { ok: false, detail: `“${source}” cannot be matched in bounded time: ${why}. Write it without that.` };
  }
};

const known = new Map<string, ReadPattern>();
const MAX_KNOWN = 1000;

/** A pattern, or what is wrong with it and what to do. Not worked out twice. */
export const readPattern = (source: string): ReadPattern => {
  let found = known.get(source);
  if (!found) {
    if (known.size > MAX_KNOWN) known.clear();
    known.set(source, (found = read(source)));
  }
  return found;
};

/** A pattern compiled; `undefined` where there is none, or it cannot be read: the lint says so then. */
export const patternOf = (source: string): Pattern | undefined => {
  if (source === '') return undefined;
  const r = readPattern(source);
  return r.ok ? r.pattern : undefined;
};

/** Why a text may not be as a pattern; `undefined` where it may. None at all may. */
export const patternRefused = (source: string): string | undefined => {
  if (source === '') return undefined;
  const r = readPattern(source);
  return r.ok ? undefined : r.detail;
};
