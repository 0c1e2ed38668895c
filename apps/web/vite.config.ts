import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [react()],
  worker: { format: 'es' },
  build: { target: 'es2022', chunkSizeWarningLimit: 2000, assetsInlineLimit: 0 },
  optimizeDeps: { exclude: ['harfbuzzjs'] },
  server: { proxy: { '/api': { target: process.env.FORESHORE_SERVER ?? 'http://127.0.0.1:4180', ws: true } } },
});
