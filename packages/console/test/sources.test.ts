import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, describe, expect, test } from "@jest/globals";
import { consoleOfTests } from "./browser.js";
import { until } from "../../../test/until.js";

const files = mkdtempSync(join(tmpdir(), "orisma-files-"));
const FILE =
  "order;raised;due;cost\n" +
  "W-1;31/01/2025;5/3/24;100\nW-2;28/02/2025;soon;2x0\nW-3;31/02/2025;;300\nW-4\n";

const opened = consoleOfTests();

afterAll(() => {
  rmSync(files, { recursive: true, force: true });
});

async function pick(name: string, content: string, place = ""): Promise<void> {
  const path = join(files, name);
  writeFileSync(path, content);
  await opened.page.goto(`${opened.url}/sources${place}`);
  await opened.page.getByLabel("File", { exact: true }).setInputFiles(path);
}

function column(name: string) {
  return opened.page.getByRole("listitem", { name, exact: true });
}

describe("bringing a file", () => {
  test("shows what it is, takes it under a name, and reports what was refused", async () => {
    await pick("Work orders.csv", FILE);
    await opened.page
      .getByText(
        "text with semicolons, utf-8, headings on line 1, 4 records, 1 of them would be refused",
      )
      .waitFor();
    expect(
      await opened.page.getByLabel("First records").getByRole("row").nth(1).innerText(),
    ).toContain("W-1");
    expect(await opened.page.getByLabel("Name of the source").inputValue()).toBe("Work-orders");
    await opened.page.getByLabel("Key column").selectOption("order");
    await opened.page.getByRole("button", { name: "Import 4 columns as Work-orders" }).click();
    await opened.page.getByRole("heading", { name: "Work-orders" }).waitFor();
    await opened.page.getByText("3 records", { exact: true }).waitFor();
    await opened.page.getByText("1 row was refused").click();
    const refused = opened.page.getByLabel("Refused rows");
    await refused.getByText("line 5").waitFor();
    expect(await refused.innerText()).toContain("W-4");
    const saving = opened.page.waitForEvent("download");
    await opened.page.getByRole("button", { name: "Save it to repair" }).click();
    expect((await saving).suggestedFilename()).toBe("Work-orders-refused-1.csv");
  });

  test("says in words what is no table, and stores nothing", async () => {
    await pick("picture.csv", "%PDF-1.7");
    await opened.page.getByText("the file is a PDF document, not a table of records").waitFor();
    expect(await opened.page.getByRole("button", { name: /^Import/ }).count()).toBe(0);
  });

  test("reads a file otherwise where requested", async () => {
    await pick("banner.csv", "Locks of the trust\nname,built\nTansy,1790\n");
    await opened.page.getByRole("region", { name: "First records" }).waitFor();
    await opened.page.getByText("Change how it is read").click();
    const skip = opened.page.getByLabel("Lines above the headings");
    await skip.fill("1");
    await skip.press("Enter");
    await opened.page.getByRole("columnheader", { name: "built" }).waitFor();
    await opened.page.getByText("headings on line 2, 1 record").waitFor();
  });
});

describe("an import that takes long", () => {
  test("shows how far it has come, and is cancelled by hand: nothing is stored", async () => {
    const rows = Array.from({ length: 150_000 }, (_, index) => `B-${index},01/02/2025,${index}\n`);
    await pick("boats.csv", `boat,seen,length\n${rows.join("")}`);
    await opened.page.getByRole("button", { name: "Import 3 columns as boats" }).click();
    await opened.page.getByText(/^[\d,]+ records$/).waitFor();
    await opened.page.getByRole("button", { name: "Cancel" }).click();
    await opened.page.getByText("Nothing was stored.").waitFor();
    await until(async () => {
      const sources = await opened.running.client.sources();
      return sources.every(({ name }) => name !== "boats");
    });
  });
});

describe("bringing another file", () => {
  const MORE = "order;raised;due;cost\nW-3;01/03/2025;;300\nW-7;02/03/2025;;700\n";

  test("puts it after the records, over those of the same name, or in their place", async () => {
    await pick(
      "more.csv",
      "order;raised;due;cost\nW-6;01/03/2025;;6\nW-7;02/03/2025;;7\n",
      "/Work-orders#import",
    );
    await opened.page.getByLabel("append").check();
    await opened.page.getByRole("button", { name: "Import 2 records into Work-orders" }).click();
    await opened.page.getByText("2 records are new; there are 5 records now.").waitFor();
    await pick("changed.csv", MORE, "/Work-orders#import");
    await opened.page.getByLabel("update by key").check();
    await opened.page.getByRole("button", { name: /^Import 2 records/ }).click();
    await opened.page.getByText("0 records are new, 2 are changed; there are 5").waitFor();
    await pick("changed.csv", MORE, "/Work-orders#import");
    await opened.page.getByRole("button", { name: /^Import 2 records/ }).click();
    await opened.page.getByText("there are 2 records now").waitFor();
    const answer = await opened.running.client.imports("Work-orders");
    expect(answer.imports.map(({ mode }) => mode)).toEqual([
      "replace",
      "update",
      "append",
      "replace",
    ]);
  });

  test("reports the imports so far, which of them the records are from, and goes back one", async () => {
    await opened.page.goto(`${opened.url}/sources/Work-orders`);
    await opened.page.getByText("4 imports so far").click();
    const rows = opened.page.getByRole("region", { name: "Imports" }).getByRole("row");
    expect(await rows.nth(1).innerText()).toContain("in use");
    expect(await rows.nth(3).innerText()).toMatch(/more\.csv.*appended\s+5/);
    await opened.page.getByRole("button", { name: "Go back to the 5 records before" }).click();
    await opened.page.getByText("5 records", { exact: true }).waitFor();
    await opened.running.client.importFile("Work-orders", FILE);
  });

  test("notices a file that was imported already, and columns that are others", async () => {
    await pick("same.csv", FILE, "/Work-orders#import");
    await opened.page.getByRole("button", { name: /^Import/ }).click();
    await opened.page.getByText("This file was imported already").waitFor();
    await opened.page.getByRole("button", { name: "Import anyway" }).click();
    await opened.page.getByText("there are 3 records now").waitFor();
    await pick("others.csv", "order;raised;colour\nW-1;01/01/2025;red\n", "/Work-orders#import");
    await opened.page.getByText("Not in the file: due, cost.").waitFor();
    await opened.page.getByText("Only in the file: colour.").waitFor();
    await opened.page.getByLabel("append").check();
    await opened.page.getByRole("button", { name: /^Import/ }).click();
    await opened.page.getByText("Import failed").waitFor();
    expect((await opened.running.client.source("Work-orders")).records).toBe(3);
  });

  test("reports what stands on a source, and ends none as long as something does", async () => {
    await opened.page.goto(`${opened.url}/sources/works`);
    await opened.page.getByRole("link", { name: "Works raised" }).waitFor();
    await opened.page.getByRole("button", { name: "Delete this source" }).click();
    await opened.page.getByRole("button", { name: "Delete works" }).click();
    await opened.page.getByText("The source was not deleted").waitFor();
    await opened.running.client.createSource({ name: "short-lived" });
    await opened.page.goto(`${opened.url}/sources/short-lived`);
    await opened.page.getByRole("button", { name: "Delete this source" }).press("Enter");
    await opened.page.getByRole("button", { name: "Delete short-lived" }).press("Enter");
    await opened.page.getByRole("heading", { name: "Imported and attached sources" }).waitFor();
    expect((await opened.running.client.sources()).map(({ name }) => name)).not.toContain(
      "short-lived",
    );
  });

  test("shows yes and no as what they are, and the parts of a source under it", async () => {
    const { client } = opened.running;
    for (const name of ["gates", "paddles"]) {
      await client.createSource({ name, columns: { open: { type: "boolean" } } });
      await client.importFile(name, "gate,open\nA,yes\nB,no\nC,perhaps\nD,\n");
    }
    const of = ["gates", "paddles"];
    await client.createSource({ name: "all-gates", combine: { of, column: "from" } });
    await opened.page.goto(`${opened.url}/sources/gates`);
    await column("open").getByText("2 filled").waitFor();
    expect(await column("open").innerText()).toContain("1 unreadable");
    await opened.page.getByRole("link", { name: "all-gates" }).waitFor();
    await opened.page.goto(`${opened.url}/sources`);
    await opened.page.getByText("its 2 parts").click();
    await opened.page.getByRole("link", { name: "gates", exact: true }).waitFor();
  });
});

describe("setting readings", () => {
  test("makes dates of what is certain in one act", async () => {
    await opened.page.goto(`${opened.url}/sources/Work-orders`);
    await opened.page.getByText("can be read in one way only").waitFor();
    expect(await column("raised").innerText()).toContain("2 cells fit dd/MM/yyyy");
    await opened.page.getByRole("button", { name: "Read it" }).click();
    await column("raised").getByText("days, written dd/MM/yyyy").waitFor();
    expect(await column("raised").innerText()).toContain("1 unreadable");
  });

  test("has the evidence for each reading in a table, and takes one in one act", async () => {
    const { client } = opened.running;
    await client.createSource({ name: "two-ways" });
    const days = ["03/04/2025", "05/06/2025", "13/08/2025", "2025-08-14"];
    await client.importFile("two-ways", `raised\n${days.join("\n")}\n`);
    await opened.page.goto(`${opened.url}/sources/two-ways`);
    await column("raised").getByRole("button", { name: "Set reading" }).click();
    const evidence = opened.page.getByRole("region", { name: "Evidence" });
    // The month first: fits two cells, both another date, and none only so.
    await evidence.getByRole("row", { name: /^MM\/dd\/yyyy 2 2 0 2025-03-04/ }).waitFor();
    await evidence.getByRole("row", { name: /^dd\/MM\/yyyy or yyyy-MM-dd 4 .* taken$/ }).waitFor();
    await evidence.getByRole("button", { name: "Take MM/dd/yyyy" }).click();
    const form = opened.page.getByRole("form", { name: "Set the reading of raised" });
    await form.getByRole("cell", { name: "4 March 2025" }).waitFor();
    expect(await form.getByLabel("Patterns").inputValue()).toBe("MM/dd/yyyy");
    await evidence.getByRole("row", { name: /^MM\/dd\/yyyy .* taken$/ }).waitFor();
    await client.deleteSource("two-ways");
    await opened.page.goto(`${opened.url}/sources/Work-orders`);
  });

  test("shows what a change would come to before it is stored, then stores it", async () => {
    await column("due").getByRole("button", { name: "Set reading" }).click();
    const form = opened.page.getByRole("form", { name: "Set the reading of due" });
    await form.getByLabel("Type").selectOption("date");
    await form.getByLabel("Patterns").fill("d/M/yy");
    await form.getByLabel("First year of two-digit years").fill("1970");
    await form.getByRole("cell", { name: "5 March 2024" }).waitFor();
    await form.getByText("1 unreadable").waitFor();
    // Nothing is stored yet.
    const source = await opened.running.client.source("Work-orders");
    expect(source.columns.find(({ name }) => name === "due")?.type).toBe("text");
    await form.getByRole("button", { name: "means “no date”" }).click();
    await form.getByText("0 unreadable").waitFor();
    await form.getByRole("button", { name: "Set the reading" }).click();
    await column("due").getByText("days, written d/M/yy from 1970 on").waitFor();
    expect(await column("due").innerText()).toContain("1 dated");
  });

  test("reports a pattern that cannot be read, and keeps what was there", async () => {
    await column("due").getByRole("button", { name: "Set reading" }).click();
    const form = opened.page.getByRole("form", { name: "Set the reading of due" });
    await form.getByLabel("Patterns").fill("bb/cc");
    await form.getByText("This reading does not fit").waitFor();
    await column("due").getByRole("button", { name: "Close" }).click();
    expect(await form.count()).toBe(0);
  });

  test("repairs a cell by keyboard", async () => {
    await column("raised").getByRole("button", { name: "Set reading" }).click();
    const cell = opened.page.getByLabel("raised of W-3");
    await cell.fill("31/04/2025");
    await cell.press("Enter");
    await opened.page.getByText("“31/04/2025” is not a date").first().waitFor();
    await cell.fill("28/02/2025");
    await cell.press("Enter");
    await column("raised").getByText("0 unreadable").first().waitFor();
    const { columns } = await opened.running.client.profile("Work-orders");
    expect(columns.find(({ name }) => name === "raised")?.quality?.dated).toBe(3);
  });

  test("names the listings that would break before it is done, and does it when forced", async () => {
    const { client } = opened.running;
    await client.declareListing("orders-raised", { source: "Work-orders", mainDate: "raised" });
    await opened.page.goto(`${opened.url}/sources/Work-orders`);
    await column("raised").getByRole("button", { name: "Set reading" }).click();
    const form = opened.page.getByRole("form", { name: "Set the reading of raised" });
    // What stands on the column is said before anything is changed.
    await form.getByText("Stands on this column").waitFor();
    await form
      .getByRole("listitem")
      .filter({ hasText: /^orders-raised: / })
      .waitFor();
    await form.getByLabel("Type").selectOption("text");
    await form.getByText(/orders-raised: .*“raised”.*holds text/).waitFor();
    await form.getByText(/orders-raised: .*“raised”.*holds text/).waitFor();
    expect((await client.records("orders-raised")).meta.total).toBe(3);
    await form.getByRole("button", { name: "Set anyway" }).click();
    await form.waitFor({ state: "detached" });
    await opened.page.goto(`${opened.url}/`);
    await opened.page.getByText("Not available: it does not fit its source any more").waitFor();
    await opened.page.goto(`${opened.url}/listings/orders-raised`);
    await opened.page.getByText("This listing cannot be served").waitFor();
    await opened.page.getByRole("link", { name: "Edit the declaration" }).click();
    await opened.page
      .getByText(/“raised”.* holds text/)
      .first()
      .waitFor();
    await client.deleteListing("orders-raised");
    await opened.page.goto(`${opened.url}/sources/Work-orders`);
    await opened.page.getByText("can be read in one way only").waitFor();
    await opened.page.getByRole("button", { name: "Read it" }).click();
    await column("raised").getByText("days, written dd/MM/yyyy").waitFor();
  });

  test("goes back to records that a listing does not fit only when forced", async () => {
    const { client } = opened.running;
    const before = "order,raised,due\nW-1,28/02/2025,\nW-2,01/03/2025,\nW-3,02/03/2025,5/3/24\n";
    await client.importFile("Work-orders", "order,raised,due,seen\nW-9,01/01/2025,,yes\n", {
      edits: "overwrite",
    });
    await client.importFile("Work-orders", before);
    await client.restoreRecords("Work-orders");
    await client.declareListing("orders-seen", {
      source: "Work-orders",
      mainDate: "raised",
      columns: ["order", "seen"],
      parameters: [],
    });
    await opened.page.reload();
    await opened.page.getByRole("button", { name: "Go back to the 3 records before" }).click();
    await opened.page.getByText("orders-seen would be broken").waitFor();
    await opened.page.getByRole("button", { name: "Continue anyway" }).click();
    await opened.page.getByText("3 records", { exact: true }).waitFor();
    await client.deleteListing("orders-seen");
  });

  test("goes back to the records before the last import", async () => {
    const { client } = opened.running;
    await client.repairCell("Work-orders", { id: "W-2", column: "due", value: "04/04/2025" });
    const file = "order,raised,due\nW-9,01/01/2025,\n";
    await client.importFile("Work-orders", file, { edits: "overwrite" });
    await opened.page.reload();
    await opened.page.getByText("1 record", { exact: true }).waitFor();
    await opened.page.getByRole("button", { name: "Go back to the 3 records before" }).click();
    await opened.page.getByText("3 records", { exact: true }).waitFor();
  });

  test("goes back with the edits that were made since, or without them, and asks first", async () => {
    const { client } = opened.running;
    const due = async () => {
      const { cells } = await client.inspectRecord("Work-orders", "W-1");
      return cells.find(({ column: name }) => name === "due")?.raw;
    };
    const file = "order,raised,due\nW-1,28/02/2025,01/04/2025\n";
    await client.importFile("Work-orders", file, { edits: "overwrite" });
    await client.repairCell("Work-orders", { id: "W-1", column: "due", value: "02/04/2025" });
    await opened.page.reload();
    await opened.page.getByRole("button", { name: "Go back to the 3 records before" }).click();
    await opened.page.getByText("Edits would be overwritten").waitFor();
    expect(await due()).toBe("02/04/2025");
    await opened.page.getByRole("button", { name: "Make the edits again" }).click();
    await opened.page.getByText("3 records", { exact: true }).waitFor();
    expect(await due()).toBe("02/04/2025");
  });
});
