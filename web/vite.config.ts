import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'

export default defineConfig({
  plugins: [vue()],
  resolve: { alias: { '@': new URL('./src', import.meta.url).pathname } },
  build: { target: 'es2022', emptyOutDir: false, assetsInlineLimit: 0 },
  server: { proxy: { '/api': 'http://127.0.0.1:7400' } },
})
