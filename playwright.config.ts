import { defineConfig } from '@playwright/test';

const port = process.env['WL_E2E_PORT'] ?? '4460';
const data = process.env['WL_E2E_DATA'] ?? '/var/tmp/wide-lattice-e2e';

// Debian's Chromium; nothing is looked up or fetched outside this machine.
const args = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-dev-shm-usage',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--disable-extensions',
  '--disable-domain-reliability',
  '--metrics-recording-only',
  '--no-pings',
  '--host-resolver-rules=MAP * ~NOTFOUND , EXCLUDE 127.0.0.1 , EXCLUDE localhost',
];

export default defineConfig({
  testDir: 'e2e',
  // Generous: a busy machine is slow, not wrong.
  timeout: 180_000,
  expect: { timeout: 20_000 },
  // No test relies on it: what passes only when tried again is named at the end of the run, with its trace, to be mended.
  retries: process.env['CI'] === undefined ? 0 : 1,
  workers: 2,
  fullyParallel: true,
  forbidOnly: process.env['CI'] !== undefined,
  reporter: [['list'], ['json', { outputFile: 'test-results/e2e.json' }]],
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
    // A click waits for what moves to stand still; nothing that is tested moves.
    contextOptions: { reducedMotion: 'reduce' },
    launchOptions: { executablePath: '/usr/bin/chromium-headless-shell', args },
    trace: 'on-first-retry',
  },
  // The whole test run starts it beside the unit tests.
  ...(process.env['WL_E2E_STARTED'] === 'yes'
    ? {}
    : {
        webServer: {
          command: 'bash scripts/start.sh --fresh',
          url: `http://127.0.0.1:${port}/api/plans`,
          env: {
            WL_PORT: port,
            WL_DATA: data,
            WL_DB_PORT: String(Number(port) + 1),
            WL_IS_BUILT: 'yes',
            WL_DB_FLUSH: 'never',
          },
          timeout: 300_000,
          gracefulShutdown: { signal: 'SIGTERM', timeout: 15_000 },
        },
      }),
});
