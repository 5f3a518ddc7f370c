import { fileURLToPath } from 'node:url'
import { componentStyles } from './scripts/component-styles'

const here = (folder: string) => fileURLToPath(new URL(folder, import.meta.url))

/** What packages without types of their own are. */
const DECLARED = ['../core/routing/email-providers.d.ts']
const COMPONENTS = [
  'Button',
  'InputText',
  'InputNumber',
  'Textarea',
  'Select',
  'MultiSelect',
  'Checkbox',
  'RadioButton',
  'DataTable',
  'Column',
  'Dialog',
  'Popover',
  'Toast',
  'DatePicker',
  'AutoComplete',
  'ProgressBar',
]

export default defineNuxtConfig({
  compatibilityDate: '2026-01-01',
  // The team's side is an application behind a sign-in; what visitors see is rendered by server routes.
  ssr: false,
  telemetry: false,
  devtools: { enabled: false },
  modules: ['@pinia/nuxt', '@primevue/nuxt-module'],
  alias: { '#core': here('./core'), '#db': here('./db'), '#server': here('./server') },
  css: ['@fontsource-variable/hanken-grotesk/index.css', '@fontsource-variable/bricolage-grotesque/index.css', '~/assets/cavlin.css'],
  app: {
    head: {
      title: 'Cavlin',
      htmlAttrs: { lang: 'en' },
      meta: [
        { name: 'viewport', content: 'width=device-width, initial-scale=1' },
        { name: 'robots', content: 'noindex' },
      ],
      link: [
        { rel: 'icon', type: 'image/svg+xml', href: '/icon.svg' },
        // What every screen asks first is on its way before the script that asks.
        ...['/api/session', '/api/team/house'].map(href => ({
          rel: 'preload' as const,
          as: 'fetch' as const,
          href,
          crossorigin: 'anonymous' as const,
        })),
      ],
      script: [{ src: '/theme.js', tagPosition: 'head' }],
    },
  },
  primevue: {
    // Its styles are worked out when we build (scripts/component-styles.ts), not on each load of a page.
    loadStyles: false,
    options: { theme: 'none' as never },
    components: { include: COMPONENTS },
    directives: { include: ['Tooltip'] },
    composables: { include: ['useToast'] },
  },
  // Each screen fetches what it needs when it opens: what somebody might open next is most of the application.
  hooks: {
    // What a route answers is said where it is asked: worked out anew for each of two hundred routes, it took checking the types half a minute.
    'nitro:init': nitro => {
      nitro.hooks.hook('types:extend', types => {
        types.routes = {}
      })
    },
    'build:manifest': manifest => {
      for (const part of Object.values(manifest)) part.prefetch = false
    },
  },
  experimental: { defaults: { nuxtLink: { prefetchOn: { interaction: true, visibility: false } } } },
  // Small fonts stay files: the policy of the pages lets none in that is written into a sheet.
  vite: { build: { assetsInlineLimit: 0, reportCompressedSize: false }, plugins: [componentStyles([...COMPONENTS, 'Tooltip'])] },
  nitro: {
    preset: 'node-server',
    // How large it is packed is nobody's question while it is built, and what runs is not told of its sources.
    logging: { compressedSizes: false },
    sourceMap: false,
    // A page of somebody else's may be set in them.
    routeRules: {
      '/w/fonts/**': { headers: { 'access-control-allow-origin': '*', 'cache-control': 'public, max-age=31536000, immutable' } },
      // Modules are fetched as from a stranger.
      '/w/parts/**': { headers: { 'access-control-allow-origin': '*', 'cache-control': 'public, max-age=0, must-revalidate' } },
    },
    // What shared pictures are written with.
    serverAssets: [
      {
        baseName: 'letters',
        dir: `${import.meta.dirname}/node_modules/@fontsource/hanken-grotesk/files`,
        pattern: 'hanken-grotesk-latin{,-ext}-{400,700}-normal.woff',
      },
    ],
    compressPublicAssets: { gzip: true, brotli: true },
    esbuild: { options: { target: 'es2022', tsconfigRaw: { compilerOptions: { experimentalDecorators: true } } } },
    errorHandler: '#server/error',
    // Decorators need it, and nobody imports anything from it.
    moduleSideEffects: ['reflect-metadata'],
    typescript: { tsConfig: { include: DECLARED, compilerOptions: { experimentalDecorators: true, noUncheckedIndexedAccess: true } } },
  },
  typescript: {
    strict: true,
    tsConfig: { include: DECLARED, compilerOptions: { experimentalDecorators: true, noUncheckedIndexedAccess: true } },
  },
})
