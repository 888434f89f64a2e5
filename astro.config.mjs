import node from '@astrojs/node';
import react from '@astrojs/react';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'astro/config';

export default defineConfig({
  output: 'server',
  adapter: node({ mode: 'standalone' }),
  integrations: [react()],
  devToolbar: { enabled: false },
  // The origin is checked in src/middleware.ts, which knows the host at run time.
  security: { checkOrigin: false },
  vite: { plugins: [tailwindcss()], worker: { format: 'es' } },
});
