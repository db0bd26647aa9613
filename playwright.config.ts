import { defineConfig } from "@playwright/test";

/** The tests drive the whole product: bin/start on a database and a data folder of their own, made anew for each file. */
export default defineConfig({
  testDir: "tests/e2e",
  outputDir: "test-results",
  // a product with its browser leaves a third of two cores idle
  workers: Number(process.env.E2E_WORKERS ?? 2),
  retries: 0,
  timeout: 180_000,
  // two cores carry a product with its boards, the database and the browser
  expect: { timeout: 15_000 },
  globalSetup: "./tests/e2e/template.ts",
  reporter: [["list"], ["json", { outputFile: ".data/results/playwright.json" }]],
  use: {
    viewport: { width: 1280, height: 800 },
    // nothing moves by itself: frames that nobody looks at cost as much as those that somebody does
    contextOptions: { reducedMotion: "reduce" },
    // what is not there after so long will not come
    actionTimeout: 25_000,
    // a picture and the page's words when a test fails; TRACE=1 keeps a trace of every step
    screenshot: "only-on-failure",
    trace: process.env.TRACE === undefined ? "off" : "retain-on-failure",
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium-headless-shell",
      args: [
        "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
      ],
    },
  },
});
