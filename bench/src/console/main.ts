/**
 * The console over a listing of a million records and a column of 99,991 values, in headless
 * Chromium: the longest tasks of the page during each act, and the first draw of the time
 * ribbon against the histogram by hand, in one run.
 */
import { once } from "node:events";
import { chmodSync, mkdtempSync, rmSync } from "node:fs";
import { cpus, release, tmpdir } from "node:os";
import { join } from "node:path";
import type { TimelineAnswer } from "@orisma/core/internal";
import { startEngine } from "@orisma/server";
import mysql from "mysql2/promise";
import { chromium, type LaunchOptions, type Page } from "playwright-core";
import { median } from "../measure.js";
import { say } from "../rivals.js";
import { startOrisma } from "../service.js";
import { importWorks, recordsTable } from "../works.js";

const ROWS = Number(process.env.BENCH_ROWS ?? 1_000_000);
const PASSES = Number(process.env.BENCH_PASSES ?? 5);
/** Tasks below it are not reported by the browser. */
const LONG_MS = 50;
const WINDOW = "from=2023&to=2024";
const RIBBON = '[role="img"][aria-label*="units of a"]';

const scratch = mkdtempSync(join(tmpdir(), "orisma-bench-"));
chmodSync(scratch, 0o711);
const { BROWSER } = (await import(
  new URL("../../../scripts/browser.mjs", import.meta.url).href
)) as { BROWSER: LaunchOptions };
const engine = await startEngine({ folder: join(scratch, "database"), tell: say, onCrash: say });
const orisma = await startOrisma(engine.login, join(scratch, "state"));
const browser = await chromium.launchPersistentContext(join(scratch, "browser"), BROWSER);
const connection = await mysql.createConnection({
  ...engine.login,
  dateStrings: true,
  timezone: "Z",
});
try {
  say(`importing ${ROWS} rows …`);
  await importWorks(orisma.client, ROWS, "text");
  const {
    name: _name,
    version: _version,
    ...listing
  } = (await orisma.client.listings())[0] ?? never();
  await orisma.client.declareListing("works", {
    ...listing,
    filter: { columns: ["order", "raised", "task", "status", "cost"] },
  });
  const table = await recordsTable(engine.login);
  const page = browser.pages()[0] ?? (await browser.newPage());
  page.setDefaultTimeout(60_000);
  await page.addInitScript(watch);
  await page.goto(orisma.url);
  await page.getByLabel("Sign-in code").fill((await orisma.client.createSignInCode()).code);
  await page.keyboard.press("Enter");
  await page.getByRole("heading", { name: "Listings" }).waitFor();
  const lines = [...(await acts(page)), "", ...(await firstDraws(page, table))];
  process.stdout.write(
    [
      `The console over ${ROWS} records; ${PASSES} passes, medians, the worst of all in brackets.`,
      `${cpus()[0]?.model ?? "processor"} x ${cpus().length}, Linux ${release()}, Node ${process.version}, Chromium ${browser.browser()?.version() ?? ""} and MariaDB on the same machine.`,
      "",
      ...lines,
      "",
    ].join("\n"),
  );
} finally {
  await connection.end();
  await browser.close();
  orisma.child.kill("SIGTERM");
  await once(orisma.child, "exit");
  await engine.stop();
  rmSync(scratch, { recursive: true, force: true });
}

function never(): never {
  throw new Error("there is no listing");
}

interface Watched {
  longTasks: number[];
  ribbonAt: number | null;
}

/** Runs in every page: writes down its long tasks, and when the ribbon is first drawn. */
function watch(): void {
  const watched: Watched = { longTasks: [], ribbonAt: null };
  Object.assign(window, { watched });
  new PerformanceObserver((list) => {
    watched.longTasks.push(...list.getEntries().map(({ duration }) => duration));
  }).observe({ entryTypes: ["longtask"] });
  const observer = new MutationObserver(() => {
    if (document.querySelector('[role="img"][aria-label*="units of a"]') === null) return;
    observer.disconnect();
    requestAnimationFrame(() => {
      watched.ribbonAt = performance.now();
    });
  });
  observer.observe(document, { childList: true, subtree: true });
}

/** What a page wrote down since it was last asked. */
function watchedIn(page: Page): Promise<Watched> {
  return page.evaluate(() => {
    const { watched } = window as unknown as { watched: Watched };
    return { ...watched, longTasks: watched.longTasks.splice(0) };
  });
}

/**
 * Every act of a person, with the longest task of the page while it is done. What is waited for is
 * found by CSS alone: finding things by role or by words would itself be a long task of the page.
 */
async function acts(page: Page): Promise<readonly string[]> {
  const listed = actsOn(page);
  const lines: string[] = [];
  const found = new Map<string, number[]>();
  for (let count = 0; count <= PASSES; count++) {
    for (const [name, act] of listed) {
      await watchedIn(page);
      await act();
      await page.waitForTimeout(300);
      const { longTasks } = await watchedIn(page);
      // The first time code is fetched and compiled: that is kept, it is what people meet.
      found.set(name, [...(found.get(name) ?? []), Math.max(0, ...longTasks)]);
    }
    say(`acts, pass ${count}`);
  }
  lines.push("longest task of the page, in milliseconds (under 50 is not reported):");
  for (const [name, worst] of found) {
    lines.push(`${name.padEnd(54)} ${shownMs(median(worst))}   (${shownMs(Math.max(...worst))})`);
  }
  return lines;
}

/** The acts by their names, in an order in which each finds what it needs. */
function actsOn(page: Page): readonly (readonly [name: string, act: () => Promise<unknown>])[] {
  const seen = (css: string) => page.waitForSelector(css, { state: "attached" });
  const open = (query: string) => page.goto(`${orisma.url}/listings/works?${WINDOW}${query}`);
  return [
    [
      "opening the listing",
      async () => {
        await open("");
        await seen(RIBBON);
      },
    ],
    [
      "the next page of records",
      async () => {
        await page.keyboard.press("n");
        await page.waitForURL(/cursor=/);
        await seen('[aria-label="Answer"][aria-busy="false"]');
      },
    ],
    [
      "moving an edge of the ribbon by 40 units",
      async () => {
        await page.locator('[role="slider"]').first().focus();
        for (let count = 0; count < 20; count++) await page.keyboard.press("ArrowUp");
        for (let count = 0; count < 20; count++) await page.keyboard.press("ArrowDown");
      },
    ],
    [
      "the editor of dates, its calendar and its windows",
      async () => {
        await open("");
        await seen(RIBBON);
        await page.keyboard.press("d");
        await seen('button[aria-label$=" records"]');
      },
    ],
    [
      "the values of a column of 99,991",
      async () => {
        await open("&filter=cost%20IN%20('37')");
        await seen(RIBBON);
        // Each part of the filter is a clause of its own once there is an answer.
        await seen('[aria-label="Answer"][aria-busy="false"] table');
        await page.waitForFunction(() => {
          const buttons = [...document.querySelectorAll<HTMLElement>("[aria-expanded]")];
          const found = buttons.find(({ textContent }) => textContent.startsWith("cost "));
          found?.click();
          return found !== undefined;
        });
        await seen('[aria-label="Offer"] li:nth-child(20)');
      },
    ],
    [
      "searching them",
      async () => {
        await page.locator('input[type="search"]').first().pressSequentially("4995");
        await page.waitForFunction(() =>
          document.querySelector('[aria-label="Offer"] li button')?.textContent.includes("4995"),
        );
      },
    ],
    [
      "figures by state and month",
      async () => {
        await open("#together");
        await seen('[aria-label="Figures"]');
      },
    ],
    [
      "the explanation",
      async () => {
        await open("#understood");
        await seen(".trace");
      },
    ],
    [
      "a year of a window that recurs",
      async () => {
        const window = encodeURIComponent("P1Y/now;BYDAY=SA..SU");
        await page.goto(`${orisma.url}/windows?window=${window}#year`);
        await seen("figure svg path");
      },
    ],
  ];
}

function shownMs(ms: number): string {
  return ms < LONG_MS ? `< ${LONG_MS}` : ms.toFixed(0).padStart(4);
}

/** The ribbon from its request to the frame in which it is drawn, against its histogram by hand. */
async function firstDraws(page: Page, table: string): Promise<readonly string[]> {
  const drawn: number[] = [];
  const ratios: number[] = [];
  for (let count = 0; count <= PASSES; count++) {
    const requested = page.waitForResponse(/\/timeline\?/);
    await page.goto(`${orisma.url}/listings/works?${WINDOW}`);
    const answer = (await (await requested).json()) as TimelineAnswer;
    await page.waitForFunction(() => (window as unknown as { watched: Watched }).watched.ribbonAt);
    const { ribbonAt } = await watchedIn(page);
    const begun = await page.evaluate(
      () =>
        performance.getEntriesByType("resource").find(({ name }) => name.includes("/timeline?"))
          ?.startTime ?? NaN,
    );
    await page.getByRole("table").waitFor();
    const hand = await byHand(table, answer);
    if (count === 0) continue;
    drawn.push((ribbonAt ?? NaN) - begun);
    ratios.push(((ribbonAt ?? NaN) - begun) / hand);
  }
  return [
    `${"first draw of the time ribbon".padEnd(54)} ${median(drawn).toFixed(0).padStart(4)} ms, ${median(ratios).toFixed(2)} of the histogram by hand`,
  ];
}

/** The same counts by the best statements by hand; throws where they are others. */
async function byHand(table: string, answer: TimelineAnswer): Promise<number> {
  const { buckets, blank, before } = answer;
  const days = buckets.map(({ startLocal }) => startLocal?.slice(0, 10) ?? "");
  const end = buckets.at(-1)?.endLocal?.slice(0, 10) ?? "";
  const edges = [...days, end].map((day) => `TO_DAYS('${day}')`).join(", ");
  const begun = performance.now();
  const [rows] = await connection.query<mysql.RowDataPacket[]>(
    `SELECT INTERVAL(TO_DAYS(c2), ${edges}) AS b, COUNT(*) AS n FROM ${table} WHERE c2 >= ? AND c2 < ? GROUP BY b ORDER BY b`,
    [days[0], end],
  );
  const [[none]] = await connection.query<mysql.RowDataPacket[]>(
    `SELECT COUNT(*) AS n FROM ${table} WHERE c2 IS NULL`,
  );
  if (before?.startLocal != null && before.endLocal != null) {
    await connection.query(`SELECT COUNT(*) AS n FROM ${table} WHERE c2 >= ? AND c2 < ?`, [
      before.startLocal.slice(0, 10),
      before.endLocal.slice(0, 10),
    ]);
  }
  const ms = performance.now() - begun;
  const ours = [...buckets.flatMap(({ records }) => (records === 0 ? [] : [records])), blank];
  const theirs = [...rows.map(({ n }) => Number(n)), Number(none?.n)];
  if (JSON.stringify(ours) !== JSON.stringify(theirs)) {
    throw new Error(`the ribbon has ${ours.join()}, by hand it is ${theirs.join()}`);
  }
  return ms;
}
