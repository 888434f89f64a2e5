import node from '@astrojs/node';
import react from '@astrojs/react';
import tailwindcss from '@tailwindcss/vite';
import { fileURLToPath } from 'node:url';
import { defineConfig } from 'astro/config';
import { build } from 'vite';
import islands from './node_modules/astro/dist/runtime/server/astro-island.prebuilt.js';
import idle from './node_modules/astro/dist/runtime/client/idle.prebuilt.js';
import load from './node_modules/astro/dist/runtime/client/load.prebuilt.js';
import media from './node_modules/astro/dist/runtime/client/media.prebuilt.js';
import only from './node_modules/astro/dist/runtime/client/only.prebuilt.js';
import visible from './node_modules/astro/dist/runtime/client/visible.prebuilt.js';
import { buildDownloads } from './ops/downloads.mjs';

/** The analysis thread has a bundle of its own, beside the server's. */
const analysis = {
  name: 'analysis-thread',
  hooks: {
    'astro:build:done': async () => {
      await build({
        configFile: false,
        logLevel: 'warn',
        build: {
          ssr: 'src/analysis/thread.ts',
          outDir: 'dist/analysis',
          copyPublicDir: false,
          target: 'node20',
          rollupOptions: { output: { entryFileNames: 'thread.mjs', chunkFileNames: '[name]-[hash].mjs' } },
        },
      });
    },
  },
};

/** What engineers take as files is built with the application that they send to. */
const downloads = { name: 'downloads', hooks: { 'astro:build:done': () => buildDownloads() } };

/** On the page's own thread the matcher of patterns comes after the first view; web workers and the server have it from the start. */
const patternsLater = {
  name: 'patterns-later',
  enforce: 'pre',
  resolveId(source, importer, { ssr } = {}) {
    if (source !== 're2js' || ssr || importer?.endsWith('re2js-later.ts')) return null;
    return fileURLToPath(new URL('./src/client/re2js-later.ts', import.meta.url));
  },
};

export default defineConfig({
  output: 'server',
  adapter: node({ mode: 'standalone' }),
  integrations: [react(), analysis, downloads],
  devToolbar: { enabled: false },
  // The origin is checked in src/middleware.ts, which knows the host at run time.
  security: { checkOrigin: false },
  vite: {
    plugins: [tailwindcss(), patternsLater],
    worker: { format: 'es' },
    // The scripts that the framework puts into pages, as it has them: they, and no others, may run there (src/server/doors.ts).
    define: { FRAMEWORK_SCRIPTS: JSON.stringify([islands, idle, load, media, only, visible]) },
  },
});
