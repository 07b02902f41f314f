import { OrismaClient } from "@orisma/client";
import { beforeEach, expect, test } from "@jest/globals";
import { SMALL_CSV } from "../../../test/works.js";
import { consoleOfTests } from "./browser.js";
import { ASKED, requestedPage } from "./requested.js";

const opened = consoleOfTests(({ running }) =>
  running.client.declareListing("works-asked", {
    ...ASKED,
    fixedFilter: "note IS NULL OR note <> 'gone'",
    editable: ["raised", "note", "cost"],
    actions: { drop: { label: "Take off the list", set: { note: "gone", cost: null } } },
  }),
);
const on = requestedPage(opened);

beforeEach(async () => {
  await opened.running.client.importFile("works", SMALL_CSV, { again: true, edits: "overwrite" });
});

/** The cell of a record in a column, counted from the first. */
function cell(record: string, column: number) {
  const row = opened.page.locator("tbody tr", {
    has: opened.page.getByText(record, { exact: true }),
  });
  return row.locator("td").nth(column);
}

async function record(id: string) {
  return (await opened.running.client.recordToEdit("works-asked", id)).record;
}

test("a cell is edited where it stands, and the edit is taken back at once", async () => {
  const { page } = opened;
  await on.open("");
  await cell("W-03", 4).getByRole("button").click();
  await page.getByLabel("Edit note").fill("mended");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await page.getByText("note of W-03 was changed").waitFor();
  await cell("W-03", 4).getByText("mended").waitFor();
  expect(await record("W-03")).toMatchObject({ note: "mended", cost: 0 });
  await page.getByRole("button", { name: "Undo", exact: true }).first().click();
  await page.getByText("Taken back: 1 record changed").waitFor();
  await cell("W-03", 4).getByText("in the middle").waitFor();
  expect(await record("W-03")).toMatchObject({ note: "in the middle" });
});

test("a value that cannot be stored is refused where it was typed, and what leaves the list is said", async () => {
  const { page } = opened;
  await on.open("?from=2025-02-01&to=2025-02-28");
  await cell("W-03", 3).getByRole("button").click();
  await page.getByLabel("Edit cost").fill("twelve");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await page.getByText("Nothing was changed").waitFor();
  await page.keyboard.press("Escape");
  expect(await record("W-03")).toMatchObject({ cost: 0 });
  await cell("W-03", 1).getByRole("button").click();
  await page.getByLabel("Edit raised").fill("2025-03-05");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await page.getByText("The record left the list").waitFor();
  expect(await on.found(3)).not.toContain("W-03");
  expect(await record("W-03")).toMatchObject({ raised: "2025-03-05" });
});

test("a record that somebody else changed meanwhile is not overwritten", async () => {
  const { page, running } = opened;
  await on.open("");
  await cell("W-02", 4).getByRole("button").click();
  await page.getByLabel("Edit note").waitFor();
  await page.waitForLoadState("networkidle");
  await running.client.editRecord("works-asked", "W-02", { note: "theirs" }, { etag: "*" });
  await page.getByLabel("Edit note").fill("mine");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await page.getByText("was changed since it was read").waitFor();
  expect(await record("W-02")).toMatchObject({ note: "theirs" });
});

test("an action is made of one record, and of all that are found after their count was seen", async () => {
  const { page } = opened;
  await on.open("?from=2025-02-01&to=2025-02-28");
  await cell("W-03", 1).getByRole("button").click();
  await page.getByRole("button", { name: "Take off the list: W-03" }).click();
  await page.getByText("1 record left the list by it.").waitFor();
  await page.getByText("3 of 9 records", { exact: true }).waitFor();
  await page.getByRole("button", { name: "Take off the list …" }).click();
  await page.getByText("This changes 3 records: all that are found.").waitFor();
  await page.getByRole("button", { name: "Cancel" }).click();
  await page.getByText("3 of 9 records", { exact: true }).waitFor();
  await page.getByRole("button", { name: "Take off the list …" }).click();
  await page.getByRole("button", { name: "Take off the list: 3 records" }).click();
  await page.getByText("3 records left the list by it.").waitFor();
  await page.getByText("0 of 6 records", { exact: true }).waitFor();
  await page.getByRole("button", { name: "More", exact: true }).click();
  await page.getByRole("button", { name: "Edits", exact: true }).click();
  const edits = page.getByRole("list", { name: "Edits" }).getByRole("listitem");
  await edits.getByText("W-02, note: first, at midnight → gone").waitFor();
  await page.getByRole("button", { name: "Undo", exact: true }).first().click();
  await page.getByText("Taken back: 3 records changed").waitFor();
  await page.getByText("3 of 9 records", { exact: true }).waitFor();
});

test("whoever may not change records is offered nothing of it", async () => {
  const { page, running, url } = opened;
  const { key } = await running.client.createKey({ name: "Reads only", role: "reader" });
  const reader = new OrismaClient({ url, key });
  expect((await reader.listing("works-asked")).rights).toEqual({ editable: [], actions: [] });
  await page.route("**/v1/listings/works-asked", async (route) => {
    const response = await fetch(route.request().url(), {
      headers: { Authorization: `Bearer ${key}` },
    });
    await route.fulfill({
      status: 200,
      body: await response.text(),
      contentType: "application/json",
    });
  });
  await on.open("");
  expect(await page.getByRole("button", { name: /Take off the list/ }).count()).toBe(0);
  await cell("W-03", 4).getByRole("button").click();
  await page.getByRole("dialog").getByRole("button").first().waitFor();
  expect(await page.getByLabel("Edit note").count()).toBe(0);
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "More", exact: true }).click();
  await page.getByRole("button", { name: "Calendar and feed" }).waitFor();
  expect(await page.getByRole("button", { name: "Edits", exact: true }).count()).toBe(0);
  await page.unroute("**/v1/listings/works-asked");
});
