import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, afterEach, beforeAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { openConsole, type OpenConsole } from "./browser.js";

const files = mkdtempSync(join(tmpdir(), "orisma-files-"));
const FILE =
  "order;raised;due;cost\n" +
  "W-1;31/01/2025;5/3/24;100\nW-2;28/02/2025;soon;2x0\nW-3;31/02/2025;;300\nW-4\n";

let opened: OpenConsole;
let page: Page;

beforeAll(async () => {
  opened = await openConsole();
  ({ page } = opened);
});
afterEach(() => {
  expect(opened.errors.splice(0)).toEqual([]);
});
afterAll(async () => {
  await opened.end();
  rmSync(files, { recursive: true, force: true });
});

async function pick(name: string, content: string): Promise<void> {
  const path = join(files, name);
  writeFileSync(path, content);
  await page.goto(`${opened.running.service.url}/sources`);
  await page.getByLabel("File", { exact: true }).setInputFiles(path);
}

function column(name: string) {
  return page.getByRole("listitem", { name, exact: true });
}

describe("bringing a file", () => {
  test("shows what it is, takes it under a name, and tells what was refused", async () => {
    await pick("Work orders.csv", FILE);
    await page
      .getByText(
        "text with semicolons, utf-8, headings on line 1, 4 records, 1 of them would be refused",
      )
      .waitFor();
    expect(await page.getByLabel("First records").getByRole("row").nth(1).innerText()).toContain(
      "W-1",
    );
    expect(await page.getByLabel("Name of the source").inputValue()).toBe("Work-orders");
    await page.getByLabel("Column that names a record").selectOption("order");
    await page.getByRole("button", { name: "Take 4 columns as Work-orders" }).click();
    await page.getByRole("heading", { name: "Work-orders" }).waitFor();
    await page.getByText("3 records", { exact: true }).waitFor();
    await page.getByText("1 row was refused").waitFor();
    const saving = page.waitForEvent("download");
    await page.getByRole("button", { name: "save it to repair" }).click();
    expect((await saving).suggestedFilename()).toBe("Work-orders-refused-1.csv");
  });

  test("says in words what is no table, and stores nothing", async () => {
    await pick("picture.csv", "%PDF-1.7");
    await page.getByText("the file is a PDF document, not a table of records").waitFor();
    expect(await page.getByRole("button", { name: /^Take/ }).count()).toBe(0);
  });

  test("reads a file otherwise where it is told to", async () => {
    await pick("banner.csv", "Locks of the trust\nname,built\nTansy,1790\n");
    await page.getByText("Read it otherwise").click();
    const skip = page.getByLabel("Lines above the headings");
    await skip.fill("1");
    await skip.press("Enter");
    await page.getByRole("columnheader", { name: "built" }).waitFor();
    await page.getByText("headings on line 2, 1 record").waitFor();
  });
});

describe("a load that takes long", () => {
  test("shows how far it has come, and is cancelled by hand: nothing is stored", async () => {
    const rows = Array.from({ length: 150_000 }, (_, index) => `B-${index},01/02/2025,${index}\n`);
    await pick("boats.csv", `boat,seen,length\n${rows.join("")}`);
    await page.getByRole("button", { name: "Take 3 columns as boats" }).click();
    await page.getByText(/^[\d,]+ records$/).waitFor();
    await page.getByRole("button", { name: "Cancel" }).click();
    await page.getByText("Nothing was stored.").waitFor();
    for (let tries = 0; tries < 100; tries++) {
      const names = (await opened.running.client.sources()).map(({ name }) => name);
      if (!names.includes("boats")) return;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
    throw new Error("the source is still there");
  });
});

describe("settling", () => {
  test("makes dates of what is certain in one act", async () => {
    await page.goto(`${opened.running.service.url}/sources/Work-orders`);
    await page.getByText("can only be dates in one way").waitFor();
    expect(await column("raised").innerText()).toContain("2 cells fit dd/MM/yyyy");
    await page.getByRole("button", { name: "Make dates of it" }).click();
    await column("raised").getByText("days, written dd/MM/yyyy").waitFor();
    expect(await column("raised").innerText()).toContain("1 unreadable");
  });

  test("shows what a change would come to before it is stored, then stores it", async () => {
    await column("due").getByRole("button", { name: "Settle" }).click();
    const form = page.getByRole("form", { name: "Settle due" });
    await form.getByLabel("It holds").selectOption("date");
    await form.getByLabel("Patterns").fill("d/M/yy");
    await form.getByLabel("First year of two digits").fill("1970");
    await form.getByRole("cell", { name: "5 March 2024" }).waitFor();
    await form.getByText("1 unreadable").waitFor();
    // Nothing is stored yet.
    const source = await opened.running.client.source("Work-orders");
    expect(source.columns.find(({ name }) => name === "due")?.type).toBe("text");
    await form.getByRole("button", { name: "means “no date”" }).click();
    await form.getByText("0 unreadable").waitFor();
    await form.getByRole("button", { name: "Settle it so" }).click();
    await column("due").getByText("days, written d/M/yy from 1970 on").waitFor();
    expect(await column("due").innerText()).toContain("1 dated");
  });

  test("tells a pattern that cannot be read, and keeps what was there", async () => {
    await column("due").getByRole("button", { name: "Settle" }).click();
    const form = page.getByRole("form", { name: "Settle due" });
    await form.getByLabel("Patterns").fill("bb/cc");
    await form.getByText("It cannot be read so").waitFor();
    await column("due").getByRole("button", { name: "Put away" }).click();
    expect(await form.count()).toBe(0);
  });

  test("repairs a cell by keyboard", async () => {
    await column("raised").getByRole("button", { name: "Settle" }).click();
    const cell = page.getByLabel("raised of W-3");
    await cell.fill("31/04/2025");
    await cell.press("Enter");
    await page.getByText("“31/04/2025” is not a date").first().waitFor();
    await cell.fill("28/02/2025");
    await cell.press("Enter");
    await column("raised").getByText("0 unreadable").first().waitFor();
    const { columns } = await opened.running.client.profile("Work-orders");
    expect(columns.find(({ name }) => name === "raised")?.quality?.dated).toBe(3);
  });

  test("goes back to the records before the last load", async () => {
    await opened.running.client.takeFile("Work-orders", "order,raised,due\nW-9,01/01/2025,\n");
    await page.reload();
    await page.getByText("1 record", { exact: true }).waitFor();
    await page.getByRole("button", { name: "Go back to the 3 records before" }).click();
    await page.getByText("3 records", { exact: true }).waitFor();
  });
});
