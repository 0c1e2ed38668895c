import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

/** Packages that ask for modules of Node only where they run in Node. */
const ALSO_IN_NODE = /node_modules\/(harfbuzzjs|wawoff2|@gltf-transform\/core)\//;
type Log = { code?: string; message: string };
/** What a build says that nobody can do anything about. */
const isKnown = ({ code, message }: Log): boolean =>
  code === 'PLUGIN_TIMINGS' || (message.includes('externalized for browser compatibility') && ALSO_IN_NODE.test(message));
const rolldownOptions = {
  checks: { pluginTimings: false },
  onLog: (level: 'warn' | 'info' | 'debug', log: Log, handle: (level: 'warn' | 'info' | 'debug', log: Log) => void) => {
    if (!isKnown(log)) handle(level, log);
  },
};

export default defineConfig({
  plugins: [react()],
  worker: { format: 'es', rolldownOptions },
  build: { target: 'es2022', chunkSizeWarningLimit: 2000, assetsInlineLimit: 0, rolldownOptions },
  optimizeDeps: { exclude: ['harfbuzzjs'] },
  server: { proxy: { '/api': { target: process.env.FORESHORE_SERVER ?? 'http://127.0.0.1:4180', ws: true } } },
});
