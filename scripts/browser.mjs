/**
 * How Debian's Chromium is started, for tests and pictures: without a window, and without
 * calls to anybody outside.
 */
export const BROWSER = {
  executablePath: "/usr/bin/chromium",
  headless: true,
  viewport: { width: 1280, height: 800 },
  locale: "en-GB",
  args: [
    "--headless",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
  ],
};
