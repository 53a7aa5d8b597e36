import react from '@vitejs/plugin-react';
import { defaultClientConditions, defineConfig } from 'vite';

export default defineConfig({
  plugins: [react()],
  resolve: {
    conditions: ['@varn/source', ...defaultClientConditions],
    dedupe: ['class-validator', 'class-transformer', 'reflect-metadata', 'react', 'react-dom'],
  },
  build: {
    target: 'es2022',
    sourcemap: false,
    chunkSizeWarningLimit: 900,
    rolldownOptions: {
      output: {
        // Few files, as each costs a phone a round trip: what most pages share, and core by what it does.
        codeSplitting: {
          groups: [
            { name: 'kit', test: /node_modules/, minShareCount: 6 },
            { name: 'core', test: /packages[\\/]core|numfmt/, minShareCount: 4 },
            {
              name: 'formula',
              test: /packages[\\/]core[\\/]src[\\/](formula|forms[\\/]evaluator)|form[\\/]evaluator/,
            },
            {
              name: 'shared',
              test: /web[\\/]src[\\/](api|ui|keys|frame|form|theme|desk)|contract[\\/]src[\\/](paths|roles)|search[\\/]question|zag-js[\\/]utils|lucide|simple-grid/,
              minShareCount: 2,
            },
          ],
        },
      },
    },
  },
  server: { port: 4181, proxy: { '/api': 'http://localhost:4180' } },
});
