import { createHash } from 'node:crypto'
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { brotliCompressSync, constants, gzipSync } from 'node:zlib'
import vue from '@vitejs/plugin-vue'
import { type Plugin, defineConfig } from 'vite'
import { VitePWA } from 'vite-plugin-pwa'

// The core for the page; a page that was built without it does not work off the network.
const core = new URL('../target/core.wasm', import.meta.url)
const bytes = existsSync(core) ? readFileSync(core) : Buffer.alloc(0)
const coreFile = bytes.length ? `assets/core-${createHash('sha256').update(bytes).digest('hex').slice(0, 10)}.wasm` : ''

const withCore = (): Plugin => ({
  name: 'core',
  apply: 'build',
  generateBundle() {
    if (coreFile) this.emitFile({ type: 'asset', fileName: coreFile, source: bytes })
  },
})

/** Compressed once here, not at every request. */
const compressed = (): Plugin => ({
  name: 'compressed',
  apply: 'build',
  writeBundle(options, bundle) {
    for (const name of Object.keys(bundle).filter((n) => /^assets\/.*\.(js|css|svg|wasm)$/.test(n))) {
      const file = join(options.dir ?? 'dist', name)
      const plain = readFileSync(file)
      if (plain.length < 1024) continue
      const params = { [constants.BROTLI_PARAM_QUALITY]: 10, [constants.BROTLI_PARAM_SIZE_HINT]: plain.length }
      writeFileSync(`${file}.br`, brotliCompressSync(plain, { params }))
      writeFileSync(`${file}.gz`, gzipSync(plain, { level: 9 }))
    }
  },
})

export default defineConfig({
  plugins: [
    // A line break between two elements is a space, as Prettier takes it to be and as HTML has it.
    vue({ template: { compilerOptions: { whitespace: 'preserve' } } }),
    withCore(),
    compressed(),
    // Shell, core, fonts and words are there without a network; an update is offered, never forced.
    VitePWA({
      registerType: 'prompt',
      injectRegister: null,
      manifest: {
        name: 'Ombret',
        short_name: 'Ombret',
        description: 'Setting up, adjusting and proving scales.',
        start_url: '/',
        display: 'standalone',
        background_color: '#f2f5f4',
        theme_color: '#22303a',
        icons: [
          { src: '/icon.svg', sizes: 'any', type: 'image/svg+xml' },
          { src: '/icon-192.png', sizes: '192x192', type: 'image/png' },
          { src: '/icon-512.png', sizes: '512x512', type: 'image/png' },
          { src: '/icon-full-512.png', sizes: '512x512', type: 'image/png', purpose: 'maskable' },
        ],
      },
      workbox: {
        globPatterns: ['**/*.{js,css,html,svg,png,woff2,wasm}'],
        maximumFileSizeToCacheInBytes: 12_000_000,
        dontCacheBustURLsMatching: /^assets\//,
        navigateFallback: '/index.html',
        navigateFallbackDenylist: [/^\/api\//],
        cleanupOutdatedCaches: true,
      },
    }),
  ],
  define: { __CORE__: JSON.stringify(coreFile && `/${coreFile}`) },
  resolve: { alias: { '@': new URL('./src', import.meta.url).pathname } },
  build: { target: 'es2022', emptyOutDir: false, assetsInlineLimit: 0 },
  worker: { format: 'es' },
  server: { proxy: { '/api': 'http://127.0.0.1:7400' } },
})
