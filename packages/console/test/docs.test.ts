import { afterAll, afterEach, beforeAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { openConsole, type OpenConsole } from "./browser.js";

let opened: OpenConsole;
let page: Page;

beforeAll(async () => {
  opened = await openConsole();
  ({ page } = opened);
});
afterEach(() => {
  expect(opened.errors.splice(0)).toEqual([]);
});
afterAll(() => opened.end());

async function open(hash: string): Promise<void> {
  await page.goto(`${opened.running.service.url}/reference#${hash}`);
  await page.getByRole("navigation", { name: "Calls" }).waitFor();
}

describe("the page of calls", () => {
  test("is reached from every page, and begins with the listings that there are", async () => {
    await page.getByRole("link", { name: "API" }).click();
    await page.getByRole("heading", { name: "works-passed: the records" }).waitFor();
    await page.getByText("/v1/listings/works-passed/records").first().waitFor();
    const groups = await page
      .getByRole("navigation", { name: "Calls" })
      .locator("h2")
      .allInnerTexts();
    expect(groups.slice(0, 3)).toEqual(["works-passed", "works-raised", "windows"]);
    await page.getByText("Example response").waitFor();
  });

  test("fills a call in, shows it as a command, and sends it", async () => {
    await open("getListingsWorksRaisedRecords");
    await page.getByLabel("from", { exact: true }).fill("2025-02-28");
    await page.getByLabel("total", { exact: true }).selectOption("exact");
    await page.getByLabel("columns", { exact: true }).fill("order, note");
    const requested = "records?from=2025-02-28&columns=order&columns=note&total=exact";
    await page.getByLabel("Command").getByText(requested).waitFor();
    await page.keyboard.press("Enter");
    await page.getByText("200 OK").waitFor();
    const body = JSON.parse(await page.getByLabel("Body").locator("pre").innerText()) as {
      records: Record<string, unknown>[];
    };
    expect(body.records.map((record) => record.order)).toEqual(["W-04", "W-05", "W-06"]);
    expect(Object.keys(body.records[0] ?? {})).toEqual(["id", "order", "note"]);
  });

  test("sends a document, and shows why one is refused", async () => {
    await open("postWindowsResolve");
    const document = page.getByLabel("Request body");
    expect(JSON.parse(await document.inputValue())).toMatchObject({ window: "month-1/now" });
    await page.getByRole("button", { name: "Send" }).click();
    await page.getByText("200 OK").waitFor();
    await page.getByLabel("Body").getByText("from 1 October 2026").waitFor();
    await document.fill('{ "window": "mnth-1", "zone": "UTC" }');
    await page.getByRole("button", { name: "Send" }).click();
    await page.getByText("422 Unprocessable Entity").waitFor();
    await page.getByLabel("Body").getByText('"code": "window.word"').waitFor();
  });

  test("leads by its address to one call, whose answer's shape can be opened", async () => {
    await open("getListingsNameExplain");
    await page.getByRole("heading", { name: "How a request is understood and run" }).waitFor();
    await page.getByText("Response schema").click();
    await page.getByLabel("JSON Schema").getByText("narrowing").first().waitFor();
    expect(await page.getByText("For the role author.").count()).toBe(1);
  });
});

describe("a listing's own words", () => {
  test("stand in headings and cells, and the extent in what is not requested", async () => {
    await opened.running.client.declareListing("works-words", {
      title: "Works in words",
      source: "works",
      zone: "Europe/London",
      mainDate: "raised",
      columns: ["order", "raised", "cost", "year"],
      derived: { year: { kind: "part", part: "year", column: "raised" } },
      formats: { raised: { pattern: "EEEE d MMMM yyyy" }, cost: { decimals: 2, prefix: "£" } },
      labels: { raised: "day of raising", year: "in the year" },
      order: { allowed: ["raised"], default: "raised", blanks: "last" },
      parameters: [
        {
          name: "from",
          type: "date",
          column: "raised",
          comparison: "from",
          pair: "raised",
          default: "extent",
        },
        {
          name: "to",
          type: "date",
          column: "raised",
          comparison: "to",
          pair: "raised",
          default: "extent",
        },
      ],
    });
    await page.goto(`${opened.running.service.url}/listings/works-words`);
    await page.getByText("10 of 10 records").waitFor();
    expect(await page.locator("thead th").allInnerTexts()).toEqual([
      "order",
      "day of raising",
      "cost",
      "in the year",
    ]);
    expect(await page.locator("tbody tr").first().locator("td").allInnerTexts()).toEqual([
      "W-01",
      "Friday 31 January 2025",
      "£1,999.00",
      "2025",
    ]);
    await page.getByRole("button", { name: /^day of raising .* as far as there is$/ }).click();
    const shown = (name: string) =>
      page.getByLabel(name, { exact: true }).getAttribute("placeholder");
    expect([await shown("from"), await shown("up to and including")]).toEqual([
      "2025-01-31",
      "2025-03-01",
    ]);
    // What is shown is no condition: blanks are in until a date is requested.
    await page.getByLabel("from", { exact: true }).fill("2025-01-31");
    await page.keyboard.press("Enter");
    await page.getByText("6 of 10 records").waitFor();
  });
});
