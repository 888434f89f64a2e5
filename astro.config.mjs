import node from '@astrojs/node';
import react from '@astrojs/react';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'astro/config';
import { build } from 'vite';

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

export default defineConfig({
  output: 'server',
  adapter: node({ mode: 'standalone' }),
  integrations: [react(), analysis],
  devToolbar: { enabled: false },
  // The origin is checked in src/middleware.ts, which knows the host at run time.
  security: { checkOrigin: false },
  vite: { plugins: [tailwindcss()], worker: { format: 'es' } },
});
