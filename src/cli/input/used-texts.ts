/** Texts in sources that may be names of events: TypeScript and JavaScript through their syntax tree, other languages by their quotes. */
import { parse, type ParserPlugin } from '@babel/parser';
import type { UsedText } from '../../core/report/usage-report';

const BY_TREE = /\.(?:[cm]?[jt]sx?)$/i;
const BY_TEXT = /\.(?:kt|kts|java|swift|m|mm|py|go|cs|dart|rb|php|rs|scala|vue|svelte|astro|html?|erb|ex|exs|cpp|cc|h)$/i;

export const isSource = (path: string): boolean => BY_TREE.test(path) || BY_TEXT.test(path);

interface Node {
  readonly type: string;
  readonly loc?: { readonly start: { readonly line: number; readonly column: number } };
  readonly [key: string]: unknown;
}

const isNode = (v: unknown): v is Node => typeof v === 'object' && v !== null && typeof (v as { type?: unknown }).type === 'string';

const textOf = (n: Node): string | undefined => {
  if (n.type === 'StringLiteral') return n['value'] as string;
  if (n.type !== 'TemplateLiteral') return undefined;
  const quasis = n['quasis'] as readonly { readonly value: { readonly cooked: string } }[];
  return quasis.length === 1 ? quasis[0]!.value.cooked : undefined;
};

/** The last name of what is called: `event` in `sender.event(…)`. */
const calledName = (callee: unknown): string | undefined => {
  if (!isNode(callee)) return undefined;
  if (callee.type === 'Identifier') return callee['name'] as string;
  if (callee.type === 'MemberExpression' || callee.type === 'OptionalMemberExpression') {
    const { property } = callee as { property?: unknown };
    return isNode(property) && property.type === 'Identifier' ? (property['name'] as string) : undefined;
  }
  return undefined;
};

export interface Scan {
  readonly used: readonly UsedText[];
  /** Functions that are called by a bare name, with where. */
  readonly calls: readonly { readonly name: string; readonly place: UsedText['place'] }[];
  /** Whether the syntax could not be read, so that quotes alone were looked for. */
  readonly byText: boolean;
}

const byTree = (file: string, text: string, sends: ReadonlySet<string>): Omit<Scan, 'byText'> => {
  const isTs = /\.[cm]?tsx?$/i.test(file);
  const plugins: ParserPlugin[] = ['decorators-legacy', 'explicitResourceManagement', ...(isTs ? (['typescript'] as const) : [])];
  if (!/\.[cm]?ts$/i.test(file)) plugins.push('jsx');
  const tree = parse(text, { sourceType: 'unambiguous', errorRecovery: true, allowReturnOutsideFunction: true, plugins });
  const used: UsedText[] = [];
  const calls: { readonly name: string; readonly place: UsedText['place'] }[] = [];
  const sentAt = new Set<Node>();
  const placeOf = (n: Node) => ({ file, line: n.loc?.start.line, column: n.loc === undefined ? undefined : n.loc.start.column + 1 });
  const walk = (n: Node): void => {
    if (n.type === 'CallExpression' || n.type === 'OptionalCallExpression') {
      const name = calledName(n['callee']);
      const [first] = n['arguments'] as unknown[];
      if (name !== undefined && sends.has(name) && isNode(first)) sentAt.add(first);
      const callee = n['callee'];
      if (isNode(callee) && callee.type === 'Identifier') calls.push({ name: callee['name'] as string, place: placeOf(n) });
    }
    // What is imported from is no name of an event.
    if (n.type === 'ImportDeclaration' || n.type === 'ExportAllDeclaration') return;
    const text = textOf(n);
    if (text !== undefined) used.push({ text, isSent: sentAt.has(n), place: placeOf(n) });
    for (const key in n) {
      if (key === 'loc' || key.endsWith('Comments')) continue;
      const v = n[key];
      if (Array.isArray(v)) {
        for (const x of v) if (isNode(x)) walk(x);
      } else if (isNode(v)) walk(v);
    }
  };
  walk(tree.program as unknown as Node);
  return { used, calls };
};

const QUOTED = /"((?:[^"\\\n]|\\.){1,200})"|'((?:[^'\\\n]|\\.){1,200})'|`([^`\\]{1,200})`/g;

const byText = (file: string, text: string, sends: ReadonlySet<string>): UsedText[] => {
  const used: UsedText[] = [];
  for (const [i, line] of text.split('\n').entries())
    for (const m of line.matchAll(QUOTED)) {
      const before = /(\w+)\s*\(\s*(?:\w+\s*[:=]\s*)?$/.exec(line.slice(0, m.index))?.[1];
      used.push({
        text: m[1] ?? m[2] ?? m[3]!,
        isSent: before !== undefined && sends.has(before),
        place: { file, line: i + 1, column: m.index + 1 },
      });
    }
  return used;
};

/** The texts of a source. `sends` are names of functions whose first argument is the name of an event. */
export const usedTexts = (file: string, text: string, sends: ReadonlySet<string>): Scan => {
  if (BY_TREE.test(file))
    try {
      return { ...byTree(file, text, sends), byText: false };
    } catch {
      return { used: byText(file, text, sends), calls: [], byText: true };
    }
  return { used: byText(file, text, sends), calls: [], byText: false };
};
