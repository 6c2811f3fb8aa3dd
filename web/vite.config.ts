import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [react()],
  server: { proxy: { '/api': process.env.WK_SERVER ?? 'http://127.0.0.1:8080' } },
  build: { chunkSizeWarningLimit: 2500, assetsInlineLimit: 0 },
});
