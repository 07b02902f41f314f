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

async function open(path: string): Promise<void> {
  await page.goto(`${url}${path}`);
  await page.locator("section[aria-label=Answer][aria-busy=false]").waitFor();
}

describe("the palette", () => {
  test("finds pages, listings and what can be done, by parts of their names", async () => {
    await open("/listings/works-raised");
    await page.keyboard.press("Control+k");
    await page.keyboard.type("dates rais");
    const options = page.getByRole("option");
    await page.getByRole("option", { name: "Change the dates: raised" }).waitFor();
    expect(await options.count()).toBe(1);
    await page.keyboard.press("Enter");
    await page.getByLabel("from", { exact: true }).waitFor();
    await page.keyboard.press("Control+k");
    await page.keyboard.type("listing works");
    await page.getByRole("option", { name: "Listing: works-passed" }).waitFor();
    await page.keyboard.press("ArrowUp");
    await page.keyboard.press("Enter");
    await page.waitForURL(/\/listings\/works-/);
    await page.keyboard.press("Control+k");
    await page.keyboard.type("nothing of this kind");
    await page.getByText("Nothing is called so.").waitFor();
    await page.keyboard.press("Escape");
    await page.getByRole("combobox").waitFor({ state: "detached" });
  });
});

describe("single keys", () => {
  test("do what is listed under ?, but not while one types, nor when they are switched off", async () => {
    await open("/listings/works-raised?from=2025-02");
    await page.keyboard.press("n");
    await page.waitForURL(/cursor=/);
    await page.keyboard.press("p");
    await page.getByText("W-02").waitFor();
    await page.keyboard.press("d");
    await page.getByLabel("from", { exact: true }).fill("");
    await page.keyboard.type("b");
    expect(await page.getByLabel("from", { exact: true }).inputValue()).toBe("b");
    await page.keyboard.press("Escape");
    await page.keyboard.press("b");
    await page.getByText("10 of 10 records").waitFor();
    await page.keyboard.press("?");
    const keys = page.getByRole("dialog", { name: "Keys" });
    await keys.getByText("Change the order").waitFor();
    await keys.getByLabel("Single keys do something").uncheck();
    await keys.getByRole("button", { name: "Close" }).click();
    await page.keyboard.press("o");
    await page.keyboard.press("Control+k");
    await page.keyboard.type("keys of");
    await page.getByRole("option", { name: "The keys of this page" }).click();
    expect(await page.getByRole("button", { name: "cost, most first" }).count()).toBe(0);
    await keys.getByLabel("Single keys do something").check();
    await page.keyboard.press("Escape");
    await page.keyboard.press("o");
    await page.getByRole("button", { name: "cost, most first" }).click();
    await page.waitForURL(/order=-cost/);
  });
});

describe("a service that is away", () => {
  test("leaves the last good answer with its time, and is asked again by itself", async () => {
    await open("/listings/works-raised?from=2025-03");
    await page.getByText("1 of 10 records").waitFor();
    await page.context().setOffline(true);
    await page.getByRole("button", { name: "Back to the start" }).click();
    await page.getByText("The service does not answer").waitFor();
    await page.getByText(/What stands below was read at \d/).waitFor();
    expect(await page.getByText("1 of 10 records").count()).toBe(1);
    expect(await page.locator("tbody tr").count()).toBe(1);
    await page.context().setOffline(false);
    await page.getByText("10 of 10 records").waitFor();
    expect(await page.getByText("The service does not answer").count()).toBe(0);
  });
});
