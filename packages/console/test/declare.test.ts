import { afterAll, afterEach, beforeAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { openConsole, type OpenConsole } from "./browser.js";

let opened: OpenConsole;
let page: Page;
let url: string;

beforeAll(async () => {
  opened = await openConsole();
  ({ page } = opened);
  ({ url } = opened.running.service);
});
afterEach(() => {
  expect(opened.errors.splice(0)).toEqual([]);
});
afterAll(() => opened.end());

const file = () => page.getByLabel("The file, in YAML or JSON");
const declare = () => page.getByRole("button", { name: "Declare it" });

describe("declaring a listing", () => {
  test("begins with three lines, goes on in the form or the file, and serves", async () => {
    await page.goto(`${url}/listings`);
    await page.getByRole("link", { name: "Declare a listing" }).click();
    await page.getByText("It is a new listing.").waitFor();
    expect(await file().inputValue()).toBe("name: works-listed\nsource: works\nmainDate: raised\n");
    await page.getByLabel("Name, as callers write it").fill("works-late");
    await page.getByLabel("Title, as people read it").fill("Works, late");
    await page.getByRole("combobox", { name: "Main date" }).selectOption("passed");
    await page.getByLabel("Any column can be asked for").check();
    expect(await file().inputValue()).toBe(
      "name: works-late\nsource: works\nmainDate: passed\ntitle: Works, late\nfilter:\n  columns: []\n",
    );
    await file().fill(`# kept\n${await file().inputValue()}page:\n  size: 4 # a few\n`);
    expect(await page.getByLabel("Records on a page").inputValue()).toBe("4");
    await page.getByRole("button", { name: "Write them down, and change them" }).click();
    await page.getByRole("button", { name: "Take the parameter note away" }).click();
    await page.getByLabel("Default of from").fill("2025-02-28");
    const text = await file().inputValue();
    expect(text).toContain("# kept");
    expect(text).toContain("size: 4 # a few");
    expect(text).not.toContain("name: note");
    const callers = page.getByRole("region", { name: "As its callers would see it" });
    await callers.getByLabel("up to and with").fill("2025-03-01");
    expect(await page.getByLabel("curl call").innerText()).toContain(
      "/v1/listings/works-late/records?to=2025-03-01'",
    );
    await declare().click();
    await page.getByRole("heading", { name: "Works, late" }).waitFor();
    await page.getByText("3 of 10 records").waitFor();
    // A default is a condition that can be done without.
    await page.getByRole("button", { name: /^Take away: passed from 28 February 2025/ }).click();
    await page.getByText("10 of 10 records").waitFor();
    await page.getByRole("button", { name: "Back to the start" }).click();
    await page.getByText("3 of 10 records").waitFor();
    const answer = await opened.running.client.records("works-late", { to: "2025-03-01" });
    expect(answer.records.map(({ order }) => order)).toEqual(["W-06", "W-05", "W-04"]);
  });

  test("says each fault at its place, and serves what it served", async () => {
    await page.goto(`${url}/declare/works-raised`);
    const text = await file().inputValue();
    await file().fill(text.replace("mainDate: raised", "mainDate: rased"));
    await page.getByRole("button", { name: "line 5, column 1" }).click();
    await page.getByText("there is no column “rased”").first().waitFor();
    expect(await declare().isDisabled()).toBe(true);
    expect(
      await page.evaluate(() => {
        const area = document.querySelector("textarea");
        return area?.value.slice(area.selectionStart, area.selectionEnd);
      }),
    ).toBe("mainDate: rased");
    await file().fill("name: [");
    await page.getByText("The form waits until the file can be read").waitFor();
    await file().fill(
      "name: works-raised\nsource: works\nmainDate: raised\nparameters: 3\ncolumns: x\n",
    );
    await page.getByRole("button", { name: "line 4, column 1" }).waitFor();
    const answer = await opened.running.client.records("works-raised");
    expect(answer.meta.total).toBe(10);
  });

  test("tells what a change would take away before it is made", async () => {
    await page.goto(`${url}/listings/works-raised`);
    await page.getByRole("link", { name: "Change what is declared" }).click();
    await page
      .getByLabel("A condition that no caller can change")
      .fill("raised >= DATE('2025-03-01')");
    await page.getByText("With nothing asked 0 records come and 9 leave.").waitFor();
    await page.getByLabel("A condition that no caller can change").fill("");
    await page.getByText("With nothing asked 0 records come and 0 leave.").waitFor();
    expect(await file().inputValue()).not.toContain("fixed");
  });
});
