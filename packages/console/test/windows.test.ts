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

async function open(query: Readonly<Record<string, string>>): Promise<void> {
  await page.goto(`${opened.running.service.url}/windows?${new URLSearchParams(query).toString()}`);
  await page.getByRole("heading", { name: "A window, on any day" }).waitFor();
}

const ASKED = { zone: "Europe/London", asOf: "2024-05-15T13:30:05Z" };

describe("the bench for windows", () => {
  test("tells a window in words as it is typed, with its edges and when it next changes", async () => {
    await open({ ...ASKED, window: "month-1" });
    await page.getByText("From 1 April 2024 to the end of 30 April 2024, Europe/London.").waitFor();
    await page.getByText("next changes at 2024-05-31T23:00:00Z").waitFor();
    const edges = page.getByRole("region", { name: "Edges" });
    expect(await edges.innerText()).toContain("2024-03-31 23:00:00Z");
    const field = page.getByLabel("Window", { exact: true });
    await field.fill("2024-03-31");
    await page.getByText("On 31 March 2024, Europe/London.").waitFor();
    await page.getByText("31 March 2024 has 23 hours").waitFor();
    expect(new URL(page.url()).searchParams.get("window")).toBe("2024-03-31");
  });

  test("says where a text goes wrong, and draws nothing", async () => {
    await open({ ...ASKED, window: "2024-01/monht" });
    await page.getByText("at 9: “monht” is not a unit; did you mean month?").waitFor();
    expect(await page.getByRole("region", { name: "Edges" }).count()).toBe(0);
    await open({ ...ASKED, window: "today", zone: "Mars/Olympus" });
    await page.getByText("Mars/Olympus").first().waitFor();
    expect(await page.getByRole("alert").count()).toBe(1);
  });

  test("offers windows by name with their dates on any day", async () => {
    await open({ ...ASKED, window: "today" });
    await page.getByText("from 8 May 2024 to the end of 14 May 2024").first().waitFor();
    await page.getByRole("button", { name: "last quarter" }).click();
    await page.getByText("From 1 January 2024 to the end of 31 March 2024, Europe").waitFor();
    await page.getByLabel("Asked at").fill("2024-11-15T12:00:00Z");
    await page.getByText("From 1 July 2024 to the end of 30 September 2024, Europe").waitFor();
  });

  test("offers what was named in the service beside them", async () => {
    await opened.running.client.declareWindow("season", {
      label: "the dredging season",
      window: "year;BYMONTH=9..11",
    });
    await open({ ...ASKED, window: "today" });
    await page.getByRole("button", { name: "the dredging season" }).click();
    await page.getByText("From 1 September 2024 to the end of 30 November 2024, Europe").waitFor();
  });
});
