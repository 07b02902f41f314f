import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, afterEach, beforeAll, expect } from "@jest/globals";
import { chromium, type Locator, type Page } from "playwright-core";
import { BROWSER } from "../../../scripts/browser.mjs";
import { startTestService, type TestService } from "../../../test/service.js";
import { importWorks } from "../../../test/works.js";

/** Settings of the service beside those of every test. */
type TestSettings = NonNullable<Parameters<typeof startTestService>[0]>["settings"] & object;

/** The console of a test's own service, signed in. */
export interface OpenConsole {
  readonly running: TestService;
  readonly page: Page;
  /** What the page complained of. */
  readonly errors: string[];
  end(): Promise<void>;
}

/** Starts a service with the small source and its listings, and signs in to its console. */
export async function openConsole(settings: TestSettings = {}): Promise<OpenConsole> {
  const running = await startTestService({ settings });
  await importWorks(running.client);
  const profile = mkdtempSync(join(tmpdir(), "orisma-browser-"));
  const browser = await chromium.launchPersistentContext(profile, BROWSER);
  const page = browser.pages()[0] ?? (await browser.newPage());
  const errors: string[] = [];
  page.setDefaultTimeout(120_000);
  page.on("pageerror", (error) => errors.push(error.message));
  page.on("console", (message) => {
    // A refused request is logged by the browser itself; the page shows it.
    if (message.type() === "error" && !message.text().startsWith("Failed to load resource")) {
      errors.push(message.text());
    }
  });
  byKeysAlone(page);
  await page.goto(running.service.url);
  await page.getByLabel("Sign-in code").fill(running.service.createCode());
  await page.keyboard.press("Enter");
  await page.getByRole("heading", { name: "Listings" }).waitFor();
  return {
    running,
    page,
    errors,
    async end() {
      await browser.close();
      rmSync(profile, { recursive: true, force: true });
      await running.end();
    },
  };
}

/**
 * The console of a file of tests: opened before the first, ended after the last. A page that complains
 * in its console fails the test in which it does.
 */
export function consoleOfTests(
  prepare?: (opened: OpenConsole) => Promise<unknown>,
  settings?: TestSettings,
): {
  readonly page: Page;
  readonly url: string;
  readonly running: TestService;
} {
  let opened: OpenConsole;
  beforeAll(async () => {
    opened = await openConsole(settings);
    await prepare?.(opened);
  });
  afterEach(() => {
    expect(opened.errors.splice(0)).toEqual([]);
  });
  afterAll(() => opened.end());
  return {
    get page() {
      return opened.page;
    },
    get url() {
      return opened.running.service.url;
    },
    get running() {
      return opened.running;
    },
  };
}

/** Holds answers back until they are let go; what was requested is counted. */
export async function heldBack(page: Page, pattern: string) {
  let requested = 0;
  let letGo: () => void = () => undefined;
  const gone = new Promise<void>((resolve) => {
    letGo = resolve;
  });
  await page.route(pattern, async (route) => {
    requested++;
    await gone;
    // One that was stopped meanwhile has nobody who waits for it.
    await route.continue().catch(() => undefined);
  });
  return {
    asked: () => requested,
    async end() {
      letGo();
      await page.unroute(pattern);
    },
  };
}

/**
 * Makes every press of a test one of the keyboard: what it would click has the focus put on it, and
 * Enter or the space bar is pressed. What takes no focus fails the test; that keys lead to whatever
 * does is held for every page apart. A press at a place, with `position`, stays one of the mouse.
 */
function byKeysAlone(page: Page): void {
  const locators = Object.getPrototypeOf(page.locator("body")) as Locator;
  locators.click = async function (this: Locator, options) {
    if (options?.position !== undefined) return pressAt(this, options.position);
    // What cannot be pressed yet may be in a moment, as for a press of the mouse.
    for (let tries = 0; tries < 6_000; tries++) {
      const key = await this.evaluate(keyThatPresses);
      if (key !== null) return this.page().keyboard.press(key);
      await this.page().waitForTimeout(50);
    }
    throw new Error(`no key presses ${String(this)}`);
  };
  const tick = (wanted: boolean) =>
    async function (this: Locator) {
      if ((await this.isChecked()) !== wanted) await this.press(" ");
      expect(await this.isChecked()).toBe(wanted);
    };
  locators.check = tick(true);
  locators.uncheck = tick(false);
}

/** Puts the focus on an element, or on what it stands in; null where that takes none. */
function keyThatPresses(element: Element): string | null {
  const taking = element.closest<HTMLElement>(
    "a[href], button, input, select, textarea, summary, [tabindex]",
  );
  taking?.focus();
  if (taking === null || document.activeElement !== taking) return null;
  const isTicked = taking instanceof HTMLInputElement && /^(?:checkbox|radio)$/.test(taking.type);
  return isTicked ? " " : "Enter";
}

async function pressAt(of: Locator, { x, y }: { readonly x: number; readonly y: number }) {
  await of.scrollIntoViewIfNeeded();
  const box = await of.boundingBox();
  if (box === null) throw new Error(`${String(of)} is nowhere`);
  await of.page().mouse.click(box.x + x, box.y + y);
}
