import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'

export default defineConfig({
  plugins: [
    // A line break between two elements is a space, as Prettier takes it to be and as HTML has it.
    vue({ template: { compilerOptions: { whitespace: 'preserve' } } }),
  ],
  resolve: { alias: { '@': new URL('./src', import.meta.url).pathname } },
  build: { target: 'es2022', emptyOutDir: false, assetsInlineLimit: 0 },
  server: { proxy: { '/api': 'http://127.0.0.1:7400' } },
})
