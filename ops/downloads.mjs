// What the application gives to engineers as files: the sender, the checker that its debug mode takes, and the build check.
import { build } from 'esbuild';
import { spawnSync } from 'node:child_process';
import { copyFileSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import ts from 'typescript';

const SENDER = 'packages/sender';
const TYPED = ['message-id', 'sender', 'store', 'wire'];

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

/** Builds into a directory that the server gives out. */
export const buildDownloads = async (directory = 'dist/client/downloads') => {
  mkdirSync(directory, { recursive: true });
  const sender = join(directory, 'signal-post-sender.js');
  // Fields of classes as they are set, not declared once more: every byte of the sender goes over everybody's wire.
  await bundle(join(SENDER, 'src/index.ts'), sender, {
    tsconfigRaw: { compilerOptions: { useDefineForClassFields: false } },
    // Names that nobody outside sees.
    mangleProps:
      /^(?:keyOf|adopt|lanes|lane|bound|toEnd|forget|setUser|newId|tookMs|afterMs|dropped|own|read|write|head|why|prefix|remove|attribute|parent)$/,
  });
  let types = '';
  for (const name of TYPED) {
    const text = readFileSync(join(SENDER, 'src', `${name}.ts`), 'utf8');
    const { outputText, diagnostics = [] } = ts.transpileDeclaration(text, {
      fileName: `${name}.ts`,
      compilerOptions: { isolatedDeclarations: true },
    });
    if (diagnostics.length > 0)
      throw new Error(
        ts.formatDiagnostics(diagnostics, { getCurrentDirectory: () => '', getCanonicalFileName: (f) => f, getNewLine: () => '\n' }),
      );
    types += outputText.replaceAll(/^import .*$/gm, '').replaceAll(/^export \{\};$/gm, '');
  }
  // One file of types, which every way of resolving modules reads.
  writeFileSync(join(directory, 'signal-post-sender.d.ts'), types.replaceAll(/\n{3,}/g, '\n\n').trimStart());
  pack(SENDER, join(directory, 'signal-post-sender.tgz'), {
    'dist/signal-post-sender.js': sender,
    'dist/index.d.ts': join(directory, 'signal-post-sender.d.ts'),
  });
  if (existsSync('src/cli/checker.ts')) await bundle('src/cli/checker.ts', join(directory, 'signal-post-checker.js'));
  if (existsSync('src/cli/start.ts'))
    await bundle('src/cli/start.ts', join(directory, 'signal-post-check.mjs'), {
      platform: 'node',
      target: 'node20',
      banner: { js: "#!/usr/bin/env node\nimport{createRequire as __cr}from'node:module';const require=__cr(import.meta.url);" },
    });
  if (existsSync('src/cli/start.ts'))
    pack('packages/check', join(directory, 'signal-post-check.tgz'), {
      'signal-post-check.mjs': join(directory, 'signal-post-check.mjs'),
    });
};

if (process.argv[1]?.endsWith('downloads.mjs')) await buildDownloads(process.argv[2]);
