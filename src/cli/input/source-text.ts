/** Sources of other languages by their quotes, without their comments. */
import type { UsedText } from '../../core/report/usage-report';

interface Style {
  readonly line: readonly string[];
  readonly block: readonly (readonly [string, string])[];
}

const C: Style = { line: ['//'], block: [['/*', '*/']] };
const HASH: Style = { line: ['#'], block: [] };
const MARKUP: Style = { line: [], block: [['<!--', '-->'], ['<%#', '%>']] }; // prettier-ignore
const STYLES: readonly (readonly [RegExp, Style])[] = [
  [/\.php$/i, { line: ['//', '#'], block: [['/*', '*/']] }],
  [/\.(?:py|rb|exs?)$/i, HASH],
  [/\.(?:html?|erb|vue|svelte|astro)$/i, MARKUP],
];
const styleOf = (file: string): Style => STYLES.find(([name]) => name.test(file))?.[1] ?? C;

export const blank = (text: string): string => text.replaceAll(/[^\n]/g, ' ');

/** A source with blanks in place of its comments: every place stays where it was. A mark inside of a text is no comment. */
export const withoutComments = (file: string, text: string): string => {
  const { line, block } = styleOf(file);
  const isMarkup = styleOf(file) === MARKUP;
  let out = '';
  for (let i = 0; i < text.length;) {
    const opens = block.find(([open]) => text.startsWith(open, i));
    if (opens) {
      const end = text.indexOf(opens[1], i + opens[0].length);
      const to = end < 0 ? text.length : end + opens[1].length;
      out += blank(text.slice(i, to));
      i = to;
      continue;
    }
    if (line.some((mark) => text.startsWith(mark, i))) {
      const end = text.indexOf('\n', i);
      const to = end < 0 ? text.length : end;
      out += blank(text.slice(i, to));
      i = to;
      continue;
    }
    const quote = text[i]!;
    // In markup a lone apostrophe is a letter.
    if (!isMarkup && (quote === '"' || quote === "'" || quote === '`')) {
      const triple = quote.repeat(3);
      const close = text.startsWith(triple, i) ? triple : quote;
      let j = i + close.length;
      while (j < text.length && !text.startsWith(close, j)) {
        // A text in single quotes ends with its line.
        if (close.length === 1 && close !== '`' && text[j] === '\n') break;
        j += text[j] === '\\' ? 2 : 1;
      }
      const to = Math.min(text.length, text.startsWith(close, j) ? j + close.length : j);
      out += text.slice(i, to);
      i = to;
      continue;
    }
    out += quote;
    i++;
  }
  return out;
};

const QUOTED = /"((?:[^"\\\n]|\\.){1,200})"|'((?:[^'\\\n]|\\.){1,200})'|`([^`\\]{1,200})`/g;
/** `NAME = "…"`, with a type or a word before it or not. */
const CONSTANT = /\b([A-Za-z_]\w*)\s*(?::\s*[\w.<>?]+\s*)?=\s*(?:"((?:[^"\\\n]|\\.){1,200})"|'((?:[^'\\\n]|\\.){1,200})')/g;
const CALL_BY_NAME = /(\w+)\s*\(\s*(?:\w+\s*[:=]\s*)?((?:[A-Za-z_]\w*\.)*([A-Za-z_]\w*))\s*[,)]/g;

/** What names stand for, over all sources that are read so; one that stands for two things stands for none. */
export class Constants {
  private readonly texts = new Map<string, string | undefined>();

  add(file: string, text: string): void {
    for (const m of withoutComments(file, text).matchAll(CONSTANT)) {
      const v = m[2] ?? m[3]!;
      this.texts.set(m[1]!, this.texts.has(m[1]!) && this.texts.get(m[1]!) !== v ? undefined : v);
    }
  }

  of(name: string): string | undefined {
    return this.texts.get(name);
  }
}

/** The texts of a source, and what is sent by a name that stands for a text. */
export const textsByQuotes = (file: string, text: string, sends: ReadonlySet<string>, constants: Constants): UsedText[] => {
  const used: UsedText[] = [];
  for (const [i, line] of withoutComments(file, text).split('\n').entries()) {
    const quoted = (part: string, from: number): void => {
      for (const m of part.matchAll(QUOTED)) {
        const text = m[1] ?? m[2] ?? m[3]!;
        const before = /(\w+)\s*\(\s*(?:\w+\s*[:=]\s*)?$/.exec(part.slice(0, m.index))?.[1];
        used.push({
          text,
          isSent: before !== undefined && sends.has(before),
          place: { file, line: i + 1, column: from + m.index + 1 },
        });
        // Code in an attribute of markup has quotes of its own.
        if (/\(\s*['"`]/.test(text)) quoted(text, from + m.index + 1);
      }
    };
    quoted(line, 0);
    for (const m of line.matchAll(CALL_BY_NAME)) {
      const known = sends.has(m[1]!) ? constants.of(m[3]!) : undefined;
      if (known !== undefined) used.push({ text: known, isSent: true, place: { file, line: i + 1, column: m.index + 1 } });
    }
  }
  return used;
};
