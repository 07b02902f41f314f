import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import type { Settings } from "@orisma/server";
import { startAttachable, type AttachableServer } from "../../../test/attachable.js";
import { consoleOfTests } from "./browser.js";

const PASSWORD = "tow-rope";
const DATABASE = "orisma_lengths";
const settings: { attachable: Settings["attachable"] } = { attachable: [] };
let attachable: AttachableServer;

beforeAll(async () => {
  attachable = await startAttachable(DATABASE, [
    { user: "reader", password: PASSWORD, rights: "SELECT" },
    { user: "writer", password: PASSWORD, rights: "ALL" },
  ]);
  const { owner, place } = attachable;
  settings.attachable = [place];
  await owner.query(
    "CREATE TABLE locks_log (id INT PRIMARY KEY, emptied_on DATE, sketch BLOB, KEY (emptied_on))",
  );
  await owner.query("INSERT INTO locks_log VALUES (1, '2025-02-28', NULL)");
});
const opened = consoleOfTests(undefined, settings);
afterAll(() => attachable.end());

describe("attaching a table", () => {
  test("a database is attached, and refused with an account that can write", async () => {
    const { page, url } = opened;
    await page.goto(`${url}/sources`);
    await page.getByRole("button", { name: "Attach a table" }).click();
    await page.getByLabel("Host").fill("127.0.0.1");
    await page.getByLabel("Port", { exact: true }).fill(String(attachable.place.port));
    await page.getByLabel("Database there").fill(DATABASE);
    await page.getByLabel("Account").fill("writer");
    await page.getByLabel("Password").fill(PASSWORD);
    await page.getByLabel("Name for it here").fill("lengths");
    await page.getByRole("button", { name: "Attach the database" }).click();
    await page.getByText("the account can write: it has ALL PRIVILEGES on").waitFor();
    await page.getByLabel("Account").fill("reader");
    await page.getByRole("button", { name: "Attach the database" }).click();
    await page.getByLabel("Table or view").waitFor();
    expect(await page.getByLabel(/^Database/).inputValue()).toBe("lengths");
  });

  test("a table is chosen, with its columns and key, and is a source", async () => {
    const { page, url } = opened;
    await page.goto(`${url}/sources#attach`);
    await page.getByLabel("Table or view").selectOption("locks_log");
    const columns = page.getByRole("list", { name: "Columns" });
    await columns.getByText("sketch").waitFor();
    expect(await columns.innerText()).toMatch(
      /emptied_on date, with an index\s+sketch blob, left out/,
    );
    expect(await page.getByLabel("Key column").inputValue()).toBe("id");
    await page.getByRole("button", { name: "Attach 2 columns as locks_log" }).click();
    await page.getByRole("heading", { name: "locks_log" }).waitFor();
    expect((await opened.running.client.source("locks_log")).attached).toMatchObject({
      database: "lengths",
      table: "locks_log",
    });
  });
});

describe("pasting", () => {
  test("records that are pasted are looked at like a file, and imported", async () => {
    const { page, url } = opened;
    await page.goto(`${url}/sources`);
    await page.getByRole("button", { name: "paste records" }).click();
    await page
      .getByLabel("Records, with their headings")
      .fill("order\traised\nW-1\t2025-02-28\nW-2\t2025-03-01\n");
    await page.getByRole("button", { name: "Look at them" }).click();
    await page.getByText("2 records").first().waitFor();
    await page.getByRole("button", { name: "Import 2 columns as pasted" }).click();
    await page.getByRole("heading", { name: "pasted" }).waitFor();
    expect((await opened.running.client.source("pasted")).records).toBe(2);
  });

  test("is one press anywhere on the page, and left to fields where somebody types", async () => {
    const { page, url } = opened;
    const paste = (into: string) =>
      page.evaluate((selector) => {
        const clipboardData = new DataTransfer();
        clipboardData.setData("text/plain", "lock,opened\nWeir,2025-02-01\n");
        const event = new ClipboardEvent("paste", {
          clipboardData,
          bubbles: true,
          cancelable: true,
        });
        document.querySelector(selector)?.dispatchEvent(event);
      }, into);
    await page.goto(`${url}/sources`);
    await page.getByRole("button", { name: "paste records" }).click();
    await paste("textarea");
    expect(await page.getByText("pasted.txt").count()).toBe(0);
    await paste("main");
    await page.getByText("pasted.txt").waitFor();
    await page.getByRole("button", { name: "Import 2 columns as pasted-2" }).waitFor();
  });
});
