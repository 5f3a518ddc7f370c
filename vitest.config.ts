import { defineConfig } from 'vitest/config'

export default defineConfig({
  oxc: { target: 'es2022', decorator: { legacy: true } },
  test: {
    // Long enough for a machine on which everything else runs, too: what hangs is found all the same.
    testTimeout: 120_000,
    hookTimeout: 240_000,
    // Computation runs side by side. What shares a house runs one file at a time, and so does what starts and stops houses of its own.
    // Modules are read once (isolate: false), but for tests that change their own process: its settings, its clock, its modules.
    projects: [
      {
        extends: true,
        test: { name: 'core', include: ['tests/{core,nuxt}/**/*.test.ts'], maxWorkers: 2, isolate: false, sequence: { groupOrder: 0 } },
      },
      {
        extends: true,
        test: { name: 'house', include: ['tests/house/**/*.test.ts'], fileParallelism: false, isolate: false, sequence: { groupOrder: 1 } },
      },
      {
        extends: true,
        test: { name: 'apart', include: ['tests/apart/**/*.test.ts'], fileParallelism: false, sequence: { groupOrder: 2 } },
      },
      {
        extends: true,
        test: {
          name: 'own-house',
          include: ['tests/own-house/**/*.test.ts'],
          fileParallelism: false,
          testTimeout: 240_000,
          hookTimeout: 400_000,
          sequence: { groupOrder: 3 },
        },
      },
    ],
    // Tests of the path of an entry sign what stands in mails.
    env: Object.fromEntries(
      ['LINKS', 'LEAVE', 'PROOFS', 'WORDS'].map(purpose => [
        `CAVLIN_KEYS_${purpose}`,
        `only-for-tests-that-run-the-path-themselves-${purpose}`,
      ]),
    ),
    reporters: ['default', ['json', { outputFile: process.env.CAVLIN_TEST_REPORT ?? 'test-results/vitest.json' }]],
  },
})
