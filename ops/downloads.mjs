// What the application gives to engineers as files: the sender, the checker that its debug mode takes, and the build check.
import { build } from 'esbuild';
import { spawnSync } from 'node:child_process';
import { copyFileSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import ts from 'typescript';

const SENDER = 'packages/sender';
/** What each entry of the sender's package is made of, as far as it has types. */
const ENTRIES = {
  'signal-post-sender': ['message-id', 'sender', 'store', 'wire'],
  page: ['page'],
  testing: ['testing'],
};
/** Names in the sender that nobody outside sees, shorter on the wire. */
const HIDDEN =
  /^(?:keyOf|adopt|lanes|lane|bound|toEnd|forget|setUser|newId|tookMs|afterMs|dropped|own|read|write|head|why|prefix|remove|once|takeOut|change|told|heard|store|text)$/;

/** Zod brings its messages in forty languages, of which one is said. */
const oneLanguage = {
  name: 'one-language',
  setup(to) {
    to.onLoad({ filter: /zod[\\/]v4[\\/]locales[\\/]index\.js$/ }, () => ({
      contents: "export { default as en } from './en.js';",
      loader: 'js',
    }));
  },
};

/** Packages that one command alone needs, and that are larger than all else: they lie in the program as a text, which is read as code when that command
 *  runs. As code among the other it takes ten megabytes of every run.
 */
const LATER = ['@babel/parser', '@babel/traverse'];
const later = {
  name: 'later',
  setup(to) {
    let text;
    const textOf = async () => {
      const { outputFiles } = await build({
        stdin: { contents: LATER.map((p) => `exports[${JSON.stringify(p)}] = require(${JSON.stringify(p)});`).join(''), resolveDir: '.' },
        bundle: true,
        minify: true,
        format: 'cjs',
        platform: 'node',
        target: 'node20',
        legalComments: 'none',
        write: false,
      });
      return outputFiles[0].text;
    };
    to.onResolve({ filter: /^(?:@babel\/(?:parser|traverse)|later-text)$/ }, ({ path }) => ({ path, namespace: 'later' }));
    to.onLoad({ filter: /./, namespace: 'later' }, async ({ path }) => ({
      resolveDir: '.',
      contents:
        path === 'later-text'
          ? `const given = {};
             require('node:vm').runInThisContext('(function(exports, require) {' + ${JSON.stringify((text ??= await textOf()))} + '})')(given, require);
             module.exports = given;`
          : `module.exports = require('later-text')[${JSON.stringify(path)}];`,
    }));
  },
};

const bundle = (entry, outfile, more = {}) =>
  build({
    entryPoints: [entry],
    outfile,
    bundle: true,
    minify: true,
    format: 'esm',
    target: 'es2022',
    legalComments: 'none',
    logLevel: 'warning',
    plugins: [oneLanguage],
    ...more,
  });

/** A text of plain letters is held in half the memory of one that has a single other: those that esbuild leaves, in patterns, are written as their numbers. */
const inPlainLetters = (file) =>
  writeFileSync(
    file,
    readFileSync(file, 'utf8').replaceAll(/[\u0080-\uffff]/g, (c) => `\\u${c.charCodeAt(0).toString(16).padStart(4, '0')}`),
  );

/** A package with what was built, to be installed from the address of the application. */
const pack = (from, to, built) => {
  const stage = mkdtempSync(join(tmpdir(), 'signal-post-package-'));
  for (const file of ['package.json', 'README.md']) copyFileSync(join(from, file), join(stage, file));
  for (const [inside, file] of Object.entries(built)) {
    mkdirSync(dirname(join(stage, inside)), { recursive: true });
    copyFileSync(file, join(stage, inside));
  }
  const packed = spawnSync('npm', ['pack', stage, '--pack-destination', stage, '--json'], { encoding: 'utf8' });
  if (packed.status !== 0) throw new Error(`npm pack: ${packed.stderr}`);
  copyFileSync(join(stage, JSON.parse(packed.stdout)[0].filename), to);
  rmSync(stage, { recursive: true });
};

/** Entries import the sender that lies beside them. */
const besides = (extension) => ({
  name: 'besides',
  setup(to) {
    to.onResolve({ filter: /^\.\/sender$/ }, ({ kind }) =>
      kind === 'entry-point' ? undefined : { path: `./signal-post-sender${extension}`, external: true },
    );
  },
});

const typesOf = (file) => {
  const { outputText, diagnostics = [] } = ts.transpileDeclaration(readFileSync(join(SENDER, 'src', `${file}.ts`), 'utf8'), {
    fileName: `${file}.ts`,
    compilerOptions: { isolatedDeclarations: true },
  });
  if (diagnostics.length > 0)
    throw new Error(
      ts.formatDiagnostics(diagnostics, { getCurrentDirectory: () => '', getCanonicalFileName: (f) => f, getNewLine: () => '\n' }),
    );
  return outputText;
};

/** One file of types for each entry, which every way of resolving modules reads. Those of the sender itself hang together; others import them from it. */
const typesOfEntry = (entry, files, extension) => {
  const isCore = entry === 'signal-post-sender';
  let types = files
    .map(typesOf)
    .join('\n')
    .replaceAll(/^export \{\};$/gm, '');
  types = types.replaceAll(/^import (.*) from '(.*)';$/gm, (_, names) =>
    isCore ? '' : `import ${names} from './signal-post-sender${extension}';`,
  );
  return types.replaceAll(/\n{3,}/g, '\n\n').trimStart();
};

/** The sender: for modules and for CommonJS, with what a page adds, for tests, and as a script without modules with the stub that stands in for it. */
const buildSender = async (directory) => {
  const built = {};
  for (const [format, extension] of Object.entries({ esm: '.js', cjs: '.cjs' }))
    for (const [entry, files] of Object.entries(ENTRIES)) {
      const isCore = entry === 'signal-post-sender';
      const name = isCore ? entry : `signal-post-${entry}`;
      const file = join(directory, `${name}${extension}`);
      await bundle(join(SENDER, 'src', isCore ? 'index.ts' : `${entry}.ts`), file, {
        format,
        // Fields of classes as they are set, not declared once more: every byte of the sender goes over everybody's wire.
        tsconfigRaw: { compilerOptions: { useDefineForClassFields: false } },
        ...(isCore ? { mangleProps: HIDDEN } : { plugins: [besides(extension)] }),
      });
      const types = join(directory, `${name}${extension === '.js' ? '.d.ts' : '.d.cts'}`);
      writeFileSync(types, typesOfEntry(entry, files, extension));
      built[`dist/${name}${extension}`] = file;
      built[`dist/${name}${extension === '.js' ? '.d.ts' : '.d.cts'}`] = types;
    }
  const classic = { format: 'iife', target: 'es2022', tsconfigRaw: { compilerOptions: { useDefineForClassFields: false } } };
  for (const [name, entry] of [
    ['signal-post-script.js', 'classic-script.ts'],
    ['signal-post-stub.js', 'stub.ts'],
  ]) {
    await bundle(join(SENDER, 'src', entry), join(directory, name), entry === 'stub.ts' ? { format: 'iife', target: 'es2015' } : classic);
    built[`dist/${name}`] = join(directory, name);
  }
  pack(SENDER, join(directory, 'signal-post-sender.tgz'), built);
};

/** Builds into a directory that the server gives out. */
export const buildDownloads = async (directory = 'dist/client/downloads') => {
  mkdirSync(directory, { recursive: true });
  await buildSender(directory);
  if (existsSync('src/cli/checker.ts')) await bundle('src/cli/checker.ts', join(directory, 'signal-post-checker.js'));
  if (existsSync('src/cli/start.ts')) {
    await bundle('src/cli/start.ts', join(directory, 'signal-post-check.mjs'), {
      platform: 'node',
      target: 'node20',
      plugins: [oneLanguage, later],
      banner: { js: "#!/usr/bin/env node\nimport{createRequire as __cr}from'node:module';const require=__cr(import.meta.url);" },
    });
    inPlainLetters(join(directory, 'signal-post-check.mjs'));
    pack('packages/check', join(directory, 'signal-post-check.tgz'), {
      'signal-post-check.mjs': join(directory, 'signal-post-check.mjs'),
    });
  }
};

if (process.argv[1]?.endsWith('downloads.mjs')) await buildDownloads(process.argv[2]);
