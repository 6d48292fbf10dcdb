import { defineConfig } from '@playwright/test';

/** The real interface in Debian's Chromium, against real processes. */
export default defineConfig({
  testDir: '.',
  outputDir: '../test-results',
  fullyParallel: false,
  workers: 2,
  timeout: 300_000,
  expect: { timeout: 60_000 },
  reporter: [['list']],
  use: {
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    actionTimeout: 60_000,
    // Recording costs a third of the time; `npx playwright test --trace on` shows what a test saw.
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: process.env['CHROME_BIN'] ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
});
