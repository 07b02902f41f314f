import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import { afterAll, afterEach, beforeAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { ASKED } from "./asked.js";
import { openConsole, type OpenConsole } from "./browser.js";

const AXE = readFileSync(createRequire(import.meta.url).resolve("axe-core/axe.min.js"), "utf8");

let opened: OpenConsole;
let page: Page;
let url: string;

beforeAll(async () => {
  opened = await openConsole();
  ({ page } = opened);
  ({ url } = opened.running.service);
  await opened.running.client.declareListing("works-asked", ASKED);
});
afterEach(() => {
  expect(opened.errors.splice(0)).toEqual([]);
});
afterAll(() => opened.end());

/** Every page, and what is opened on it first. */
const PAGES: readonly (readonly [name: string, path: string, open: () => Promise<unknown>])[] = [
  ["the listings", "/listings", () => page.getByRole("link", { name: "Works raised" }).waitFor()],
  ["a listing", "/listings/works-asked?from=2025-02", () => drawn()],
  ["an empty listing", "/listings/works-asked?from=2031", () => drawn()],
  [
    "a refused request",
    "/listings/works-asked?from=31%2F02%2F2025",
    () => page.getByText("Nothing was searched").waitFor(),
  ],
  [
    "the editor of dates",
    "/listings/works-asked?from=2025-02",
    async () => {
      await page.getByRole("button", { name: /^raised from/ }).click();
      await page
        .getByRole("button", { name: /^28 February 2025, |^1 / })
        .first()
        .waitFor();
    },
  ],
  [
    "the editor of values",
    "/listings/works-asked?filter=note%20IN%20(%27blank%27)",
    async () => {
      await page.getByRole("button", { name: "note blank", exact: true }).first().click();
      await page.getByLabel("Tick blank too").waitFor();
    },
  ],
  [
    "groups of conditions",
    "/listings/works-asked?filter=cost%20%3E%203%20OR%20note%20IS%20NULL",
    async () => {
      await page.getByRole("button", { name: /^cost above 3 or/ }).click();
      await page.getByLabel("The same in CQL2").waitFor();
    },
  ],
  [
    "the menu of a cell",
    "/listings/works-asked",
    async () => {
      await drawn();
      await page.getByRole("button", { name: "31/02/2025 (unreadable)" }).click();
      await page.getByText("Stored as 31/02/2025").waitFor();
    },
  ],
  [
    "another day",
    "/listings/works-asked?from=today&asOf=2025-02-01",
    () => page.getByText("come by then").waitFor(),
  ],
  [
    "figures",
    "/listings/works-asked#together",
    () => page.getByRole("region", { name: "Figures" }).waitFor(),
  ],
  [
    "the explanation",
    "/listings/works-asked?from=2025-02#understood",
    () => page.getByText("What each condition lets through").waitFor(),
  ],
  [
    "declaring",
    "/declare/works-asked",
    () => page.getByRole("heading", { name: "As its callers would see it" }).waitFor(),
  ],
  ["the sources", "/sources", () => page.getByRole("link", { name: "works" }).waitFor()],
  ["a source", "/sources/works", () => page.getByRole("heading", { name: "raised" }).waitFor()],
  ["windows", "/windows", () => page.getByRole("heading", { name: "By name" }).waitFor()],
  ["calls", "/docs", () => page.getByRole("heading", { level: 1 }).waitFor()],
  ["access", "/access", () => page.getByRole("cell", { name: "owner" }).first().waitFor()],
];

async function drawn(): Promise<void> {
  await page.locator("section[aria-label=Answer][aria-busy=false]").waitFor();
  await page
    .getByRole("region", { name: /^Time ribbon/ })
    .getByText("unreadable")
    .waitFor();
}

/** What a checker of accessibility finds on the page. */
async function findings(): Promise<readonly string[]> {
  await page.evaluate(AXE);
  return page.evaluate(async () => {
    const axe = (globalThis as unknown as { axe: { run(): Promise<Found> } }).axe;
    interface Found {
      violations: {
        id: string;
        help: string;
        nodes: { html: string; failureSummary?: string }[];
      }[];
    }
    const { violations } = await axe.run();
    return violations.flatMap(({ id, nodes }) =>
      nodes.map(
        ({ html, failureSummary = "" }) => `${id}: ${html.slice(0, 200)} ${failureSummary}`,
      ),
    );
  });
}

function isTooWide(): Promise<boolean> {
  return page.evaluate(
    () => document.documentElement.scrollWidth > document.documentElement.clientWidth,
  );
}

describe.each(PAGES)("%s", (_name, path, open) => {
  test.each(["light", "dark"] as const)("has nothing in the way of anybody, %s", async (scheme) => {
    await page.emulateMedia({ colorScheme: scheme });
    await page.goto(`${url}${path}`);
    await open();
    expect(await findings()).toEqual([]);
  });

  test("fits a width of 320 pixels, and stays so from right to left", async () => {
    await page.emulateMedia({ colorScheme: "light" });
    await page.setViewportSize({ width: 320, height: 800 });
    await page.goto(`${url}${path}`);
    await open();
    expect(await isTooWide()).toBe(false);
    await page.evaluate(() => (document.documentElement.dir = "rtl"));
    expect(await isTooWide()).toBe(false);
    await page.setViewportSize({ width: 1280, height: 800 });
    expect(await isTooWide()).toBe(false);
  });
});
