import { defineConfig } from '@playwright/test'

export default defineConfig({
  testDir: '.',
  outputDir: '../test-results/browser',
  timeout: 90_000,
  // a machine that is busy takes its time to draw; how fast a tap is answered is measured where speed is tested
  expect: { timeout: 15_000 },
  workers: 2,
  // speeds are measured with nothing else running
  projects: [
    { name: 'work', testIgnore: /speed/ },
    { name: 'speed', testMatch: /speed/, dependencies: ['work'] },
  ],
  fullyParallel: false,
  reporter: [['line'], ['json']],
  use: {
    viewport: { width: 1280, height: 800 },
    trace: 'off',
    launchOptions: {
      executablePath: '/usr/bin/chromium',
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
})
