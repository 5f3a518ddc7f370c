import { defineConfig } from 'vitest/config'

export default defineConfig({
  oxc: { target: 'es2022', decorator: { legacy: true } },
  test: {
    include: ['tests/core/**/*.test.ts', 'tests/house/**/*.test.ts'], fileParallelism: false, testTimeout: 30_000, hookTimeout: 120_000,
    // Tests of the path of an entry sign what stands in mails.
    env: Object.fromEntries(['LINKS', 'LEAVE', 'PROOFS', 'WORDS'].map(purpose => [`CAVLIN_KEYS_${purpose}`, `only-for-tests-that-run-the-path-themselves-${purpose}`])),
    reporters: ['default', ['json', { outputFile: 'test-results/vitest.json' }]],
  },
})
