import { describe, expect, test } from "@jest/globals";
import { consoleOfTests } from "./browser.js";

const opened = consoleOfTests();

async function open(path: string): Promise<void> {
  await opened.page.goto(`${opened.url}${path}`);
  await opened.page.locator("section[aria-label=Answer][aria-busy=false]").waitFor();
}

describe("the palette", () => {
  test("finds pages, listings and what can be done, by parts of their names", async () => {
    await open("/listings/works-raised");
    await opened.page.keyboard.press("Control+k");
    await opened.page.keyboard.type("dates rais");
    const options = opened.page.getByRole("option");
    await opened.page.getByRole("option", { name: "Change the dates: raised" }).waitFor();
    expect(await options.count()).toBe(1);
    await opened.page.keyboard.press("Enter");
    await opened.page.getByLabel("from", { exact: true }).waitFor();
    await opened.page.keyboard.press("Control+k");
    await opened.page.keyboard.type("listing works");
    await opened.page.getByRole("option", { name: "Listing: works-passed" }).waitFor();
    await opened.page.keyboard.press("ArrowUp");
    await opened.page.keyboard.press("Enter");
    await opened.page.waitForURL(/\/listings\/works-/);
    await opened.page.keyboard.press("Control+k");
    await opened.page.keyboard.type("nothing of this kind");
    await opened.page.getByText("No results.").waitFor();
    await opened.page.keyboard.press("Escape");
    await opened.page
      .getByRole("combobox", { name: "Search commands" })
      .waitFor({ state: "detached" });
  });
});

describe("single keys", () => {
  test("do what is listed under ?, but not while one types, nor when they are switched off", async () => {
    await open("/listings/works-raised?from=2025-02");
    await opened.page.keyboard.press("n");
    await opened.page.waitForURL(/cursor=/);
    await opened.page.getByText("W-06").waitFor();
    await opened.page.keyboard.press("p");
    await opened.page.getByText("W-02").waitFor();
    await opened.page.keyboard.press("d");
    await opened.page.getByLabel("from", { exact: true }).fill("");
    await opened.page.keyboard.type("b");
    expect(await opened.page.getByLabel("from", { exact: true }).inputValue()).toBe("b");
    await opened.page.keyboard.press("Escape");
    await opened.page.keyboard.press("b");
    await opened.page.getByText("10 of 10 records").waitFor();
    await opened.page.keyboard.press("?");
    const keys = opened.page.getByRole("dialog", { name: "Keys" });
    await keys.getByText("Change the sort order").waitFor();
    await keys.getByLabel("Enable single-key shortcuts").uncheck();
    await keys.getByRole("button", { name: "Close" }).click();
    await opened.page.keyboard.press("o");
    await opened.page.keyboard.press("Control+k");
    await opened.page.keyboard.type("shortcuts");
    await opened.page.getByRole("option", { name: "Keyboard shortcuts", selected: true }).waitFor();
    await opened.page.keyboard.press("Enter");
    expect(await opened.page.getByRole("button", { name: "cost, most first" }).count()).toBe(0);
    await keys.getByLabel("Enable single-key shortcuts").check();
    await opened.page.keyboard.press("Escape");
    // Closed, it is hidden at once, and gone a moment later.
    await opened.page.locator("dialog").waitFor({ state: "detached" });
    await opened.page.keyboard.press("o");
    await opened.page.getByRole("button", { name: "cost, most first" }).click();
    await opened.page.waitForURL(/order=-cost/);
  });
});

describe("a service that is away", () => {
  test("leaves the last good answer with its time, and retries by itself", async () => {
    await open("/listings/works-raised?from=2025-03");
    await opened.page.getByText("1 of 10 records").waitFor();
    await opened.page.context().setOffline(true);
    await opened.page.getByRole("button", { name: "Reset filters" }).click();
    await opened.page.getByText("The service does not answer").waitFor();
    await opened.page.getByText(/The records below were read at \d/).waitFor();
    expect(await opened.page.getByText("1 of 10 records").count()).toBe(1);
    expect(await opened.page.locator("tbody tr").count()).toBe(1);
    await opened.page.context().setOffline(false);
    await opened.page.getByText("10 of 10 records").waitFor();
    expect(await opened.page.getByText("The service does not answer").count()).toBe(0);
  });
});
