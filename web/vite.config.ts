import react from '@vitejs/plugin-react';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  plugins: [react()],
  server: { proxy: { '/api': process.env.WK_SERVER ?? 'http://127.0.0.1:8080' } },
  // Tests look at the styles, too.
  test: { css: true },
  build: {
    chunkSizeWarningLimit: 2500,
    assetsInlineLimit: 0,
    // Colleagues get a page of their own, without the code of all others.
    rollupOptions: { input: ['index.html', 'page.html'] },
  },
});
