import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import { join } from "node:path";
import { gzipSync } from "node:zlib";
import { describe, expect, test } from "@jest/globals";
import { ASKED } from "./requested.js";
import { consoleOfTests } from "./browser.js";

const DIST = join(import.meta.dirname, "../dist");
const AXE = readFileSync(createRequire(import.meta.url).resolve("axe-core/axe.min.js"), "utf8");

const opened = consoleOfTests(({ running }) => running.client.declareListing("works-asked", ASKED));

/** Every page, and what is opened on it first. */
const PAGES: readonly (readonly [name: string, path: string, open: () => Promise<unknown>])[] = [
  [
    "the listings",
    "/listings",
    () => opened.page.getByRole("link", { name: "Works raised" }).waitFor(),
  ],
  ["a listing", "/listings/works-asked?from=2025-02", () => drawn()],
  ["an empty listing", "/listings/works-asked?from=2031", () => drawn()],
  [
    "a refused request",
    "/listings/works-asked?from=31%2F02%2F2025",
    () => opened.page.getByText("Invalid filter").waitFor(),
  ],
  [
    "the editor of dates",
    "/listings/works-asked?from=2025-02",
    async () => {
      await opened.page.getByRole("button", { name: /^raised from/ }).click();
      await opened.page
        .getByRole("button", { name: /^28 February 2025, |^1 / })
        .first()
        .waitFor();
    },
  ],
  [
    "the editor of values",
    "/listings/works-asked?filter=note%20IN%20(%27blank%27)",
    async () => {
      await opened.page.getByRole("button", { name: "note blank", exact: true }).first().click();
      await opened.page.getByLabel("Select blank too").waitFor();
    },
  ],
  [
    "groups of conditions",
    "/listings/works-asked?filter=cost%20%3E%203%20OR%20note%20IS%20NULL",
    async () => {
      await opened.page.getByRole("button", { name: /^cost above 3 or/ }).click();
      await opened.page.getByLabel("The same in CQL2").waitFor();
    },
  ],
  [
    "the menu of a cell",
    "/listings/works-asked",
    async () => {
      await drawn();
      await opened.page.getByRole("button", { name: "31/02/2025 (unreadable)" }).click();
      await opened.page.getByText("Stored as 31/02/2025").waitFor();
    },
  ],
  [
    "another day",
    "/listings/works-asked?from=today&asOf=2025-02-01",
    () => opened.page.getByText("added").waitFor(),
  ],
  [
    "figures",
    "/listings/works-asked#summary",
    () => opened.page.getByRole("region", { name: "Figures" }).waitFor(),
  ],
  [
    "the explanation",
    "/listings/works-asked?from=2025-02#explain",
    () => opened.page.getByText("Records after each condition").waitFor(),
  ],
  [
    "a year of a window",
    "/windows?window=month-1#year",
    () => opened.page.getByText(/^36\d days, each at noon/).waitFor(),
  ],
  [
    "the notation",
    "/windows#notation",
    () => opened.page.getByText("dates on or after the given one").waitFor(),
  ],
  [
    "declaring",
    "/declare/works-asked",
    () => opened.page.getByRole("heading", { name: "Preview for callers" }).waitFor(),
  ],
  ["the sources", "/sources", () => opened.page.getByRole("link", { name: "works" }).waitFor()],
  [
    "a source",
    "/sources/works",
    () => opened.page.getByRole("heading", { name: "raised" }).waitFor(),
  ],
  ["windows", "/windows", () => opened.page.getByRole("heading", { name: "By name" }).waitFor()],
  ["calls", "/reference", () => opened.page.getByRole("heading", { level: 1 }).waitFor()],
  ["access", "/access", () => opened.page.getByRole("cell", { name: "owner" }).first().waitFor()],
];

async function drawn(): Promise<void> {
  await opened.page.locator("section[aria-label=Answer][aria-busy=false]").waitFor();
  const legend = opened.page
    .getByRole("region", { name: /^Time ribbon/, includeHidden: true })
    .getByText("unreadable");
  await legend.waitFor({ state: "attached" });
  const fold = opened.page.getByRole("button", { name: "Timeline" });
  // Where the page is narrow it is folded.
  if ((await fold.count()) > 0 && (await fold.getAttribute("aria-expanded")) === "false") {
    await fold.click();
  }
  await legend.waitFor();
}

/** What a checker of accessibility finds on the opened.page. */
async function findings(): Promise<readonly string[]> {
  await opened.page.evaluate(AXE);
  return opened.page.evaluate(async () => {
    const axe = (globalThis as unknown as { axe: { run(): Promise<Found> } }).axe;
    interface Found {
      violations: {
        id: string;
        help: string;
        nodes: { html: string; failureSummary?: string }[];
      }[];
    }
    // Colours on their way from one to another are nobody's.
    const isEndless = (each: Animation) =>
      each.effect?.getComputedTiming().iterations === Number.POSITIVE_INFINITY;
    const ending = document.getAnimations().filter((each) => !isEndless(each));
    await Promise.allSettled(ending.map(({ finished }) => finished));
    const { violations } = await axe.run();
    return violations.flatMap(({ id, nodes }) =>
      nodes.map(
        ({ html, failureSummary = "" }) => `${id}: ${html.slice(0, 200)} ${failureSummary}`,
      ),
    );
  });
}

function isTooWide(): Promise<boolean> {
  return opened.page.evaluate(
    () => document.documentElement.scrollWidth > document.documentElement.clientWidth,
  );
}

describe.each(PAGES)("%s", (_name, path, open) => {
  test.each(["light", "dark"] as const)("has nothing in the way of anybody, %s", async (scheme) => {
    await opened.page.emulateMedia({ colorScheme: scheme });
    await opened.page.goto(`${opened.url}${path}`);
    await open();
    expect(await findings()).toEqual([]);
  });

  test("fits a width of 320 pixels, and stays so from right to left", async () => {
    await opened.page.emulateMedia({ colorScheme: "light" });
    await opened.page.setViewportSize({ width: 320, height: 800 });
    await opened.page.goto(`${opened.url}${path}`);
    await open();
    expect(await isTooWide()).toBe(false);
    await opened.page.evaluate(() => (document.documentElement.dir = "rtl"));
    expect(await isTooWide()).toBe(false);
    await opened.page.setViewportSize({ width: 1280, height: 800 });
    expect(await isTooWide()).toBe(false);
  });
});

/** Everything that shows that it can be pressed and that no key leads to. */
function outOfReach(): Promise<readonly string[]> {
  return opened.page.evaluate(() => {
    const reached = "a[href], button, input, select, textarea, summary, label, [tabindex]";
    const seen = [...document.querySelectorAll<HTMLElement | SVGElement>("body *")].filter(
      (each) => each.getClientRects().length > 0 && getComputedStyle(each).cursor === "pointer",
    );
    return seen.flatMap((each) => {
      const way = each.closest<HTMLElement>(reached);
      // One of a group that arrow keys go through has -1, and a cell of a table is such a one.
      const isMoved = way?.closest("[role=group], table, [role=listbox]") != null;
      // What is drawn along time is moved by keys at its edges.
      if (each.closest("section")?.querySelector("[role=slider]") != null) return [];
      if (way !== null && (way.tabIndex >= 0 || isMoved || way.tagName === "LABEL")) return [];
      return [each.outerHTML.slice(0, 160)];
    });
  });
}

describe.each(PAGES)("%s, without a mouse", (_name, path, open) => {
  test("can be used by keys alone, and one always sees where they are", async () => {
    await opened.page.goto(`${opened.url}${path}`);
    await open();
    expect(await outOfReach()).toEqual([]);
    for (let count = 0; count < 12; count++) {
      await opened.page.keyboard.press("Tab");
      const outline = await opened.page.evaluate(() => {
        const { activeElement: at } = document;
        if (at === null || at === document.body) return "none yet";
        const { outlineStyle, outlineWidth, boxShadow } = getComputedStyle(at);
        return outlineStyle !== "none" && outlineWidth !== "0px" ? "seen" : boxShadow;
      });
      expect(outline).not.toBe("none");
    }
  });
});

describe("the sign-in", () => {
  test.each(["light", "dark"] as const)("has nothing in the way of anybody, %s", async (scheme) => {
    await opened.page.emulateMedia({ colorScheme: scheme });
    await opened.page.context().clearCookies();
    await opened.page.goto(`${opened.url}/listings/works-asked`);
    await opened.page.getByLabel("Sign-in code or key").waitFor();
    expect(await findings()).toEqual([]);
    await opened.page.setViewportSize({ width: 320, height: 800 });
    expect(await isTooWide()).toBe(false);
  });
});

describe("the first load", () => {
  test("is less than 220 kB of what is sent, with 1,024 bytes each", () => {
    const html = readFileSync(join(DIST, "index.html"), "utf8");
    const files = [...html.matchAll(/(?:src|href)="\/(assets\/[^"]+)"/g)].map(([, file]) => file);
    expect(files.length).toBeGreaterThan(1);
    const sizes = files.map((file = "") => gzipSync(readFileSync(join(DIST, file))).length);
    expect(sizes.reduce((sum, size) => sum + size, 0)).toBeLessThan(220 * 1_024);
  });
});
