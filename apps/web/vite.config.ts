import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defaultClientConditions, defineConfig } from 'vite';

const server = process.env['WL_PORT'] ?? '4380';

export default defineConfig({
  plugins: [react(), tailwindcss()],
  resolve: { conditions: ['wl-source', ...defaultClientConditions] },
  worker: { format: 'es' },
  build: {
    target: 'es2022',
    chunkSizeWarningLimit: 1200,
    rolldownOptions: {
      output: {
        codeSplitting: { groups: [{ name: 'react', test: /node_modules[\\/](react|react-dom|scheduler)[\\/]/ }] },
      },
    },
  },
  server: {
    host: '127.0.0.1',
    strictPort: true,
    // The server refuses foreign origins; in development the page comes from another port.
    proxy: {
      '/api': {
        target: `http://127.0.0.1:${server}`,
        changeOrigin: true,
        headers: { origin: `http://127.0.0.1:${server}` },
      },
    },
  },
});
