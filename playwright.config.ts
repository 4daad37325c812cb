import { defineConfig } from '@playwright/test'
import { CHROMIUM } from './scripts/lib/chromium.mjs'

export default defineConfig({
  testDir: 'e2e',
  globalSetup: './e2e/support/globalSetup.mjs',
  // Machines of two cores: each worker has a server, a database and a browser of its own, and waits for them in part.
  workers: 3,
  // Machines are shared: what takes a second may take twenty.
  timeout: 480_000,
  expect: { timeout: 90_000 },
  forbidOnly: !!process.env['CI'],
  reporter: [['list'], ['json', { outputFile: 'test-results/browser.json' }]],
  outputDir: 'test-results/browser',
  use: {
    // What cannot be clicked by then never can be: one test fails, and the others need not wait for it.
    actionTimeout: 90_000,
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    timezoneId: 'Europe/Lisbon',
    screenshot: 'only-on-failure',
    launchOptions: CHROMIUM,
  },
})
