/** Texts in sources that may be names of events: TypeScript and JavaScript through their syntax tree, also inside of markup; other languages by their quotes. */
import { existsSync, readFileSync, statSync } from 'node:fs';
import { blank, Constants, textsByQuotes, withoutComments } from './source-text';
import { SourceTree, type Scan, type SendersNamed } from './source-tree';
import { readText } from './text-files';

const BY_TREE = /\.(?:[cm]?[jt]sx?)$/i;
const MARKUP = /\.(?:vue|svelte|astro|html?)$/i;
const BY_TEXT = /\.(?:kt|kts|java|swift|m|mm|py|go|cs|dart|rb|php|rs|scala|vue|svelte|astro|html?|erb|ex|exs|cpp|cc|h)$/i;

export const isSource = (path: string): boolean => BY_TREE.test(path) || BY_TEXT.test(path);

const SCRIPTS = /(<script\b[^>]*>)([\s\S]*?)(<\/script\s*>)|^(---\s*\n)([\s\S]*?)(\n---)/gi;

/** Markup taken apart: its scripts in their places, and the rest in its. */
const apart = (file: string, text: string): { readonly script: string; readonly rest: string } => {
  let script = '';
  let rest = '';
  let from = 0;
  const clean = withoutComments(file, text);
  for (const m of clean.matchAll(SCRIPTS)) {
    const [open, body, close] = [m[1] ?? m[4]!, m[2] ?? m[5]!, m[3] ?? m[6]!];
    const before = clean.slice(from, m.index);
    // Two scripts in one file may declare the same.
    script += `${blank(before + open)}${body}${blank(close)}`;
    rest += `${before}${open}${blank(body)}${close}`;
    from = m.index + m[0].length;
  }
  return { script: script + blank(clean.slice(from)), rest: rest + clean.slice(from) };
};

const textAt = (file: string): string | undefined => (existsSync(file) && statSync(file).isFile() ? readFileSync(file, 'utf8') : undefined);

export interface FileScan extends Scan {
  /** Whether the syntax could not be read, so that quotes alone were looked for. */
  readonly byText: boolean;
}

/** Scans files one after the other; constants of other languages are known once all files were looked at, so there is a first look. */
export class UsedTexts {
  private readonly tree: SourceTree;
  private readonly constants = new Constants();

  constructor(private readonly senders: SendersNamed) {
    this.tree = new SourceTree(senders, textAt);
  }

  look(file: string): void {
    if (!BY_TREE.test(file)) this.constants.add(file, readText(file));
  }

  scan(file: string, text: string): FileScan {
    const quotes = (t: string) => textsByQuotes(file, t, this.senders.calls, this.constants);
    if (!BY_TREE.test(file) && !MARKUP.test(file)) return { used: quotes(text), calls: [], others: [], byText: false };
    const { script, rest } = MARKUP.test(file) ? apart(file, text) : { script: text, rest: '' };
    try {
      const scan = this.tree.scan(file, script);
      return { ...scan, used: [...scan.used, ...quotes(rest)], byText: false };
    } catch {
      return { used: quotes(text), calls: [], others: [], byText: true };
    }
  }
}
