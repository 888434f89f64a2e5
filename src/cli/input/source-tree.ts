/** TypeScript and JavaScript through their syntax tree: what is called, of whose, with which name.
 *  Long because aliases, constants and imports are followed through one another. */
import { parse, type ParserPlugin } from '@babel/parser';
import traverseModule, { type Binding, type NodePath } from '@babel/traverse';
import { dirname, join } from 'node:path';
import type { UsedText } from '../../core/report/usage-report';

// In Node.js the package's default export is inside of itself.
const traverse = (traverseModule as unknown as { readonly default?: typeof traverseModule }).default ?? traverseModule;

export interface SendersNamed {
  /** Functions whose first argument is the name of an event. */
  readonly calls: ReadonlySet<string>;
  /** Packages whose functions of such names do send; those of all others do something else. Files of the project always count. */
  readonly packages: ReadonlySet<string>;
}

export interface Scan {
  readonly used: readonly UsedText[];
  /** Functions that are called by their name, with where: the generated ones are among them. */
  readonly calls: readonly { readonly name: string; readonly place: UsedText['place'] }[];
  /** Packages of which a function of such a name was called, and taken for another thing. */
  readonly others: readonly string[];
}

type Static = string | ReadonlyMap<string, Static>;

/** What is called, or what it is called on. */
interface Origin {
  /** As whoever made it calls it, whatever it is called here. */
  readonly name: string | undefined;
  /** The package that it came from; `undefined` for what is the project's own, global, or not known. */
  readonly from: string | undefined;
}

const UNKNOWN: Origin = { name: undefined, from: undefined };
const DEEPEST = 12;

const isOwn = (module: string): boolean => /^(?:\.|\/|@\/|~|#)/.test(module);

/** A source, parsed. Errors: what cannot be parsed throws. */
const parsed = (file: string, text: string): NodePath => {
  const isTs = /\.[cm]?tsx?$/i.test(file) || !/\.[cm]?jsx?$/i.test(file);
  const plugins: ParserPlugin[] = ['decorators-legacy', 'explicitResourceManagement', ...(isTs ? (['typescript'] as const) : [])];
  if (!/\.[cm]?ts$/i.test(file)) plugins.push('jsx');
  const tree = parse(text, { sourceType: 'unambiguous', errorRecovery: true, allowReturnOutsideFunction: true, plugins });
  let program: NodePath | undefined;
  traverse(tree, {
    Program(path) {
      program = path as NodePath;
      path.stop();
    },
  });
  return program!;
};

/** A name as a property or an import has it. */
const keyOf = (path: NodePath | null | undefined): string | undefined =>
  path?.isIdentifier() ? path.node.name : path?.isStringLiteral() ? path.node.value : undefined;

const one = (path: NodePath, key: string): NodePath | undefined => {
  const found = path.get(key) as NodePath | NodePath[];
  return Array.isArray(found) || found.node == null ? undefined : found;
};
const several = (path: NodePath, key: string): NodePath[] => {
  const found = path.get(key) as NodePath | NodePath[];
  return Array.isArray(found) ? found : [];
};

/** Without what types add around a value. */
const bare = (path: NodePath): NodePath => {
  let p = path;
  while (
    p.isTSAsExpression() ||
    p.isTSSatisfiesExpression() ||
    p.isTSNonNullExpression() ||
    p.isTSTypeAssertion() ||
    p.isParenthesizedExpression()
  )
    p = p.get('expression') as NodePath;
  return p;
};

const isMember = (path: NodePath): boolean => path.isMemberExpression() || path.isOptionalMemberExpression();
const isCall = (path: NodePath): boolean => path.isCallExpression() || path.isOptionalCallExpression();

const ENDINGS = ['', '.ts', '.tsx', '.mts', '.cts', '.js', '.jsx', '.mjs', '.cjs', '/index.ts', '/index.tsx', '/index.js', '/index.mjs'];

interface Module {
  readonly file: string;
  readonly program: NodePath;
}

/** Scans sources; what one imports from another is followed as far as files can be read.
 *  Shape: `read` gives a file’s text, `undefined` where there is none.
 */
export class SourceTree {
  private readonly modules = new Map<string, Module | undefined>();

  constructor(
    private readonly senders: SendersNamed,
    private readonly read: (file: string) => string | undefined,
  ) {}

  private moduleAt(from: string, specifier: string): Module | undefined {
    if (!specifier.startsWith('.')) return undefined;
    const at = join(dirname(from), specifier);
    for (const end of ENDINGS)
      // What is written as the built file is there as its source.
      for (const file of [at + end, ...(end === '' && /\.[cm]?jsx?$/.test(at) ? [at.replace(/\.([cm]?)js(x?)$/, '.$1ts$2')] : [])]) {
        if (this.modules.has(file)) {
          if (this.modules.get(file)) return this.modules.get(file);
          continue;
        }
        const text = this.read(file);
        let module: Module | undefined;
        if (text !== undefined)
          try {
            module = { file, program: parsed(file, text) };
          } catch {
            module = undefined;
          }
        this.modules.set(file, module);
        if (module) return module;
      }
    return undefined;
  }

  /** What a module exports under a name, with the module that it is written in. */
  private exported(module: Module, name: string, depth: number): { readonly path: NodePath; readonly file: string } | undefined {
    if (depth > DEEPEST) return undefined;
    const here = (path: NodePath | undefined) => path && { path, file: module.file };
    for (const s of several(module.program, 'body')) {
      if (s.isExportDefaultDeclaration() && name === 'default') return here(one(s, 'declaration'));
      const from = s.isExportNamedDeclaration() || s.isExportAllDeclaration() ? s.node.source?.value : undefined;
      const next = from === undefined ? undefined : this.moduleAt(module.file, from);
      if (s.isExportAllDeclaration()) {
        const found = next && this.exported(next, name, depth + 1);
        if (found) return found;
      }
      if (!s.isExportNamedDeclaration()) continue;
      for (const spec of several(s, 'specifiers')) {
        if (keyOf(one(spec, 'exported')) !== name) continue;
        const local = keyOf(one(spec, 'local')) ?? '';
        return from === undefined
          ? here(this.declared(module.program.scope.getBinding(local)))
          : next && this.exported(next, local, depth + 1);
      }
      const declaration = one(s, 'declaration');
      if (declaration?.isVariableDeclaration()) {
        for (const d of several(declaration, 'declarations')) if (keyOf(one(d, 'id')) === name) return here(d);
      } else if (declaration && keyOf(one(declaration, 'id')) === name) return here(declaration);
    }
    return undefined;
  }

  /** Where a binding that nobody assigns anew gets its value. */
  private declared(binding: Binding | undefined): NodePath | undefined {
    return binding?.constant ? binding.path : undefined;
  }

  /** What an import stands for: the thing itself where its file can be read. */
  private imported(path: NodePath, file: string, depth: number): { readonly path: NodePath; readonly file: string } | Module | undefined {
    const specifier = (path.parentPath?.node as { source?: { value?: string } } | undefined)?.source?.value;
    const module = specifier === undefined ? undefined : this.moduleAt(file, specifier);
    if (!module) return undefined;
    if (path.isImportNamespaceSpecifier()) return module;
    return this.exported(module, path.isImportDefaultSpecifier() ? 'default' : (keyOf(one(path, 'imported')) ?? ''), depth + 1);
  }

  /** A value that is known without running anything. */
  private staticOf(given: NodePath, file: string, depth = 0): Static | undefined {
    if (depth > DEEPEST) return undefined;
    const path = bare(given);
    const of = (p: NodePath | undefined): Static | undefined => p && this.staticOf(p, file, depth + 1);
    if (path.isStringLiteral()) return path.node.value;
    if (path.isTemplateLiteral()) {
      const parts = several(path, 'expressions').map(of);
      const { quasis } = path.node;
      return parts.every((p) => typeof p === 'string')
        ? quasis.map((q, i) => `${q.value.cooked ?? ''}${parts[i] ?? ''}`).join('')
        : undefined;
    }
    if (path.isBinaryExpression({ operator: '+' })) {
      const [a, b] = [of(one(path, 'left')), of(one(path, 'right'))];
      return typeof a === 'string' && typeof b === 'string' ? a + b : undefined;
    }
    if (path.isObjectExpression())
      return new Map(
        several(path, 'properties').flatMap((p): [string, Static][] => {
          const key = p.isObjectProperty() && !p.node.computed ? keyOf(one(p, 'key')) : undefined;
          const v = key === undefined ? undefined : of(one(p, 'value'));
          return key === undefined || v === undefined ? [] : [[key, v]];
        }),
      );
    if (path.isTSEnumDeclaration())
      return new Map(
        [...several(path, 'members'), ...(one(path, 'body') ? several(one(path, 'body')!, 'members') : [])].flatMap(
          (m): [string, Static][] => {
            const [key, v] = [keyOf(one(m, 'id')), of(one(m, 'initializer'))];
            return key === undefined || v === undefined ? [] : [[key, v]];
          },
        ),
      );
    if (path.isVariableDeclarator()) return of(one(path, 'init'));
    // `Object.freeze({ … })`, and what else gives back what it takes.
    if (path.isCallExpression() && this.originOf(one(path, 'callee')!, file, depth + 1).name === 'freeze')
      return of(several(path, 'arguments')[0]);
    if (isMember(path)) {
      const of_ = of(one(path, 'object'));
      const key = this.memberName(path, file, depth);
      return typeof of_ === 'object' && key !== undefined ? of_.get(key) : undefined;
    }
    if (path.isIdentifier()) {
      const at = this.declared(path.scope.getBinding(path.node.name));
      if (!at) return undefined;
      if (at.isImportSpecifier() || at.isImportDefaultSpecifier() || at.isImportNamespaceSpecifier()) {
        const found = this.imported(at, file, depth);
        if (!found) return undefined;
        if ('path' in found) return this.staticOf(found.path, found.file, depth + 1);
        return this.namespace(found, depth);
      }
      if (at.isVariableDeclarator() && one(at, 'id')?.isObjectPattern()) {
        const from = of(one(at, 'init'));
        const key = this.patternKey(one(at, 'id')!, path.node.name);
        return typeof from === 'object' && key !== undefined ? from.get(key) : undefined;
      }
      return at === path ? undefined : of(at);
    }
    return undefined;
  }

  private namespace(module: Module, depth: number): ReadonlyMap<string, Static> {
    const out = new Map<string, Static>();
    for (const s of several(module.program, 'body')) {
      const declaration = s.isExportNamedDeclaration() ? one(s, 'declaration') : undefined;
      for (const d of declaration?.isVariableDeclaration() ? several(declaration, 'declarations') : declaration ? [declaration] : []) {
        const [name, v] = [keyOf(one(d, 'id')), this.staticOf(d, module.file, depth + 1)];
        if (name !== undefined && v !== undefined) out.set(name, v);
      }
    }
    return out;
  }

  private memberName(path: NodePath, file: string, depth: number): string | undefined {
    const property = one(path, 'property');
    if (!(path.node as { computed?: boolean }).computed) return keyOf(property);
    const v = property && this.staticOf(property, file, depth + 1);
    return typeof v === 'string' ? v : undefined;
  }

  /** Under which key a pattern takes a name out of an object. */
  private patternKey(pattern: NodePath, name: string): string | undefined {
    for (const p of several(pattern, 'properties'))
      if (p.isObjectProperty() && keyOf(one(p, 'value')) === name) return keyOf(one(p, 'key'));
    return undefined;
  }

  /** Who made what is called, or what it is called on. */
  private originOf(given: NodePath, file: string, depth = 0): Origin {
    if (depth > DEEPEST) return UNKNOWN;
    const path = bare(given);
    const of = (p: NodePath | undefined): Origin => (p ? this.originOf(p, file, depth + 1) : UNKNOWN);
    if (isMember(path)) {
      const name = this.memberName(path, file, depth);
      const on = one(path, 'object')!;
      // A function that is bound, called or applied is that function.
      if (name === 'bind' || name === 'call' || name === 'apply') return of(on);
      const at = on.isIdentifier() ? this.declared(path.scope.getBinding(on.node.name)) : undefined;
      const found = at?.isImportNamespaceSpecifier() ? this.imported(at, file, depth) : undefined;
      if (found && !('path' in found) && name !== undefined) {
        const own = this.exported(found, name, depth + 1);
        return own ? this.named(this.originOf(own.path, own.file, depth + 1), name) : { name, from: undefined };
      }
      return { name, from: of(on).from };
    }
    if (isCall(path) || path.isNewExpression()) {
      const callee = one(path, 'callee');
      const [first] = several(path, 'arguments');
      if (callee?.isIdentifier({ name: 'require' }) && first?.isStringLiteral())
        return { name: undefined, from: isOwn(first.node.value) ? undefined : first.node.value };
      // `sender.event.bind(sender)` is `sender.event`; of all else only whose it is counts.
      const made = of(callee);
      const binds = callee && isMember(callee) && this.memberName(callee, file, depth) === 'bind';
      return binds ? made : { name: undefined, from: made.from };
    }
    if (path.isAwaitExpression()) return of(one(path, 'argument'));
    if (path.isVariableDeclarator()) return of(one(path, 'init'));
    if (path.isFunctionDeclaration()) return { name: keyOf(one(path, 'id')), from: undefined };
    if (!path.isIdentifier()) return UNKNOWN;
    const { name } = path.node;
    const at = this.declared(path.scope.getBinding(name));
    if (!at || at === path) return { name, from: undefined };
    if (at.isImportSpecifier() || at.isImportDefaultSpecifier() || at.isImportNamespaceSpecifier()) {
      const specifier = (at.parent as { source: { value: string } }).source.value;
      const theirs = at.isImportSpecifier() ? keyOf(one(at, 'imported')) : name;
      if (!isOwn(specifier)) return { name: theirs, from: specifier };
      const found = this.imported(at, file, depth);
      return found && 'path' in found
        ? this.named(this.originOf(found.path, found.file, depth + 1), theirs)
        : { name: theirs, from: undefined };
    }
    if (!at.isVariableDeclarator()) return { name, from: undefined };
    const init = one(at, 'init');
    if (one(at, 'id')?.isObjectPattern()) return { name: this.patternKey(one(at, 'id')!, name) ?? name, from: of(init).from };
    return this.named(of(init), name);
  }

  /** What has no name of its own has that which it is kept under. */
  private named(origin: Origin, name: string | undefined): Origin {
    return origin.name === undefined ? { name, from: origin.from } : origin;
  }

  /** All names that an argument may be: both ways of a choice. */
  private namesOf(given: NodePath, file: string): string[] {
    const path = bare(given);
    if (path.isConditionalExpression()) return ['consequent', 'alternate'].flatMap((k) => this.namesOf(one(path, k)!, file));
    if (path.isLogicalExpression()) return ['left', 'right'].flatMap((k) => this.namesOf(one(path, k)!, file));
    const v = this.staticOf(path, file);
    return typeof v === 'string' ? [v] : [];
  }

  /** Errors: what cannot be parsed throws. */
  scan(file: string, text: string): Scan {
    const program = parsed(file, text);
    this.modules.set(file, { file, program });
    const used: UsedText[] = [];
    const calls: { readonly name: string; readonly place: UsedText['place'] }[] = [];
    const others: string[] = [];
    const sent = new Set<unknown>();
    const placeOf = ({ node }: NodePath): UsedText['place'] => ({
      file,
      line: node.loc?.start.line,
      column: node.loc == null ? undefined : node.loc.start.column + 1,
    });
    const called = (path: NodePath): void => {
      const callee = one(path, 'callee');
      if (!callee) return;
      const { name, from } = this.originOf(callee, file);
      if (name === undefined) return;
      const isOther = from !== undefined && !isOwn(from) && !this.senders.packages.has(from);
      if (!isOther) calls.push({ name, place: placeOf(path) });
      if (!this.senders.calls.has(name)) return;
      // `sender.event.call(sender, 'X')` has the name one further on.
      const args = several(path, 'arguments');
      const first = isMember(bare(callee)) && this.memberName(bare(callee), file, 0) === 'call' ? args[1] : args[0];
      if (!first) return;
      if (isOther) {
        others.push(from);
        sent.add(bare(first).node);
        return;
      }
      for (const name of this.namesOf(first, file)) used.push({ text: name, isSent: true, place: placeOf(first) });
      sent.add(bare(first).node);
    };
    program.traverse({
      CallExpression: called,
      OptionalCallExpression: called,
      // What is imported from, and what is only a type, is no name of an event.
      ImportDeclaration: (path: NodePath) => path.skip(),
      ExportAllDeclaration: (path: NodePath) => path.skip(),
      TSType: (path: NodePath) => path.skip(),
      StringLiteral: (path: NodePath) => {
        if (!sent.has(path.node))
          used.push({ text: (path.node as unknown as { value: string }).value, isSent: false, place: placeOf(path) });
      },
      TemplateLiteral: (path: NodePath) => {
        const { quasis } = path.node as unknown as { quasis: readonly { value: { cooked?: string | null } }[] };
        if (!sent.has(path.node) && quasis.length === 1)
          used.push({ text: quasis[0]!.value.cooked ?? '', isSent: false, place: placeOf(path) });
      },
    });
    return { used, calls, others };
  }
}
