import react from '@vitejs/plugin-react';
import { defaultClientConditions, defineConfig } from 'vite';

export default defineConfig({
  plugins: [react()],
  resolve: {
    conditions: ['@varn/source', ...defaultClientConditions],
    dedupe: ['class-validator', 'class-transformer', 'reflect-metadata', 'react', 'react-dom'],
  },
  build: { target: 'es2022', sourcemap: false, chunkSizeWarningLimit: 900 },
  server: { port: 4181, proxy: { '/api': 'http://localhost:4180' } },
});
