import { defineConfig } from '@playwright/test'
import { CHROMIUM } from './scripts/chromium'

// What one test leaves in a house another may meet: side by side they run only on houses of their own.
const houses = process.env.CAVLIN_TEST_DEMO?.split(',').length ?? 1

export default defineConfig({
  testDir: 'tests/e2e',
  workers: houses,
  fullyParallel: false,
  retries: 0,
  timeout: 480_000,
  expect: { timeout: 45_000 },
  reporter: [['list'], ['json', { outputFile: 'test-results/playwright.json' }]],
  outputDir: 'test-results/playwright',
  use: {
    viewport: { width: 1280, height: 800 },
    trace: 'off',
    screenshot: 'only-on-failure',
    locale: 'en-GB',
    // What headless Chromium calls itself counts as a robot, whose visits are not kept.
    userAgent: 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/150.0.0.0 Safari/537.36',
    timezoneId: 'Europe/Paris',
    permissions: ['clipboard-read', 'clipboard-write'],
    launchOptions: { ...CHROMIUM },
  },
})
