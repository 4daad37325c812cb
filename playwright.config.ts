import { defineConfig } from '@playwright/test'
import { CHROMIUM } from './scripts/lib/chromium.mjs'

export default defineConfig({
  testDir: 'e2e',
  globalSetup: './e2e/support/globalSetup.mjs',
  // One machine of two cores runs the server, its database and the browsers.
  workers: 1,
  timeout: 120_000,
  expect: { timeout: 25_000 },
  forbidOnly: !!process.env['CI'],
  reporter: [['list'], ['json', { outputFile: 'test-results/browser.json' }]],
  outputDir: 'test-results/browser',
  projects: [
    { name: 'browser', testIgnore: /faults/ },
    // Stops the database that all share.
    { name: 'faults', testMatch: /faults/, dependencies: ['browser'] },
  ],
  use: {
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    timezoneId: 'Europe/Lisbon',
    screenshot: 'only-on-failure',
    launchOptions: CHROMIUM,
  },
})
