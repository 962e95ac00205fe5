import { defineConfig } from '@playwright/test';

const port = Number(process.env.E2E_PORT ?? 3210);

/** The real interface, as built, in headless chromium. */
export default defineConfig({
  testDir: 'web/e2e',
  outputDir: 'node_modules/.jump-reed-reports/e2e',
  // Every test has a browser of its own, with nothing of another's in it.
  fullyParallel: true,
  workers: 2,
  retries: 0,
  // A machine that stands still for a while is no fault of the application; what is awaited comes in its time, or never.
  timeout: 300_000,
  expect: { timeout: 60_000 },
  use: {
    baseURL: `http://localhost:${port}`,
    viewport: { width: 1280, height: 800 },
    // What moves while it opens is clicked where it was.
    contextOptions: { reducedMotion: 'reduce' },
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
      args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--disable-component-update', '--disable-sync', '--no-first-run'],
    },
  },
  webServer: {
    command: 'node scripts/start.mjs',
    env: { PORT: String(port) },
    url: `http://localhost:${port}/power-stage`,
    reuseExistingServer: false,
    timeout: 60_000,
  },
});
