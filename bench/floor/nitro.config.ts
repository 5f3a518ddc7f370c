export default {
  preset: 'node-server',
  srcDir: '.',
  compatibilityDate: '2026-01-01',
  output: { dir: '../../.bench/floor' },
  buildDir: '../../.bench/floor-build',
  logLevel: 1,
}
