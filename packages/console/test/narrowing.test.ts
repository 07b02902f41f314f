import { describe, expect, test } from "@jest/globals";
import { ASKED, requestedPage } from "./requested.js";
import { consoleOfTests } from "./browser.js";

const opened = consoleOfTests(({ running }) => running.client.declareListing("works-asked", ASKED));
const on = requestedPage(opened);

describe("values", () => {
  test("are ticked and take effect together, or not at all", async () => {
    await on.open("");
    await on.ask("note");
    await opened.page.getByLabel("Select blank", { exact: true }).check();
    await opened.page.keyboard.press("Escape");
    expect(new URL(opened.page.url()).search).toBe("");
    await on.ask("note");
    expect(await opened.page.getByLabel("Select blank", { exact: true }).isChecked()).toBe(false);
    await opened.page.getByLabel("Select blank", { exact: true }).check();
    await opened.page.getByLabel("Select blank too").check();
    await opened.page.getByRole("button", { name: "Apply 2" }).click();
    expect(await on.found(2)).toEqual(["W-07", "W-08"]);
    await opened.page
      .getByRole("button", { name: "note blank or blank too", exact: true })
      .waitFor();
    await on.reopen("note blank or blank too");
    await opened.page.getByLabel("Select blank too").waitFor();
    // Its own condition does not shrink its offer.
    expect(await opened.page.getByRole("checkbox", { name: /^Select / }).count()).toBe(10);
  });

  test("follow the other conditions, are found by typing, and one is chosen at once", async () => {
    await on.open("?from=2025-02&to=2025-02");
    await on.ask("note");
    await opened.page.getByLabel("Select last moment").waitFor();
    expect(await opened.page.getByRole("checkbox", { name: /^Select / }).count()).toBe(4);
    expect(await opened.page.getByLabel("Select next midnight").count()).toBe(0);
    await opened.page.getByLabel("Values", { exact: true }).fill("last day");
    await opened.page.getByLabel("Select last moment").waitFor({ state: "detached" });
    await opened.page.getByRole("button", { name: "last day at midnight 1", exact: true }).click();
    expect(await on.found(1)).toEqual(["W-04"]);
  });

  test("come in the groups that the listing declares", async () => {
    await on.open("");
    await on.ask("note");
    await opened.page
      .getByRole("button", { name: /^edges \(the day before, next midnight\)/ })
      .click();
    expect(await on.found(2)).toEqual(["W-01", "W-06"]);
  });
});

describe("numbers, blanks and unreadables", () => {
  test("are requested with both bounds in", async () => {
    await on.open("");
    await on.ask("cost");
    await opened.page.getByLabel("at least").fill("500");
    await opened.page.getByLabel("at most").fill("1999");
    await opened.page.keyboard.press("Enter");
    expect(await on.found(2)).toEqual(["W-01", "W-04"]);
  });

  test("are kept beside dates, alone, or omitted; what there is none of is not offered", async () => {
    await on.open("?from=2025-03");
    expect(await on.found(1)).toEqual(["W-06"]);
    await opened.page.getByRole("button", { name: /^raised from 1 March/ }).click();
    await opened.page.getByRole("button", { name: "include blanks" }).click();
    expect(await on.found(4)).toEqual(["W-07", "W-08", "W-09", "W-06"]);
    await on.reopen("raised from 1 March");
    await opened.page.getByRole("button", { name: "only blank, 3" }).click();
    expect(await on.found(3)).toEqual(["W-07", "W-08", "W-09"]);
    await on.reopen("raised");
    await opened.page.getByRole("button", { name: "only unreadable, 1" }).click();
    expect(await on.found(1)).toEqual(["W-10"]);
    await on.ask("note");
    await opened.page.getByLabel("Select unreadable").waitFor();
    expect(await opened.page.getByRole("button", { name: /^only / }).count()).toBe(0);
  });
});

describe("dates", () => {
  test("are picked from a calendar with their records by keyboard alone", async () => {
    await on.open("?from=2025-02-28&to=2025-02-28");
    await opened.page.getByRole("button", { name: /^raised on 28 February/ }).click();
    await opened.page.getByRole("button", { name: "14 February 2025, 1 record" }).waitFor();
    await opened.page.getByRole("button", { name: "28 February 2025, 2 records" }).focus();
    await opened.page.keyboard.press("ArrowUp");
    await opened.page.keyboard.press("ArrowUp");
    await opened.page.keyboard.press("Enter");
    await opened.page.getByText("From 2025-02-14: pick the last day").waitFor();
    await opened.page.keyboard.press("PageDown");
    await opened.page.getByRole("button", { name: "14 March 2025, 0 records" }).waitFor();
    await opened.page.keyboard.press("Enter");
    expect(await on.found(4)).toEqual(["W-03", "W-04", "W-05", "W-06"]);
    const { searchParams } = new URL(opened.page.url());
    expect([searchParams.get("from"), searchParams.get("to")]).toEqual([
      "2025-02-14",
      "2025-03-14",
    ]);
  });

  test("leave what is said of blanks as it is", async () => {
    await on.open("?from=2025-03-01&to=2025-03-01&from.blank=include");
    expect(await on.found(4)).toContain("W-07");
    await opened.page.getByRole("button", { name: /^raised on 1 March/ }).click();
    await opened.page.getByRole("button", { name: "The month before" }).click();
    await opened.page.getByRole("button", { name: "All of February" }).click();
    const found = await on.found(7);
    expect(found).toContain("W-07");
    expect(found).not.toContain("W-06");
  });

  test("are taken by the names of windows, several together; what rolls goes on rolling", async () => {
    const { client } = opened.running;
    const half = { label: "first half of February", window: "2025-02-01/2025-02-14" };
    await client.declareWindow("first-half", half);
    await client.declareWindow("march", { label: "March 2025", window: "2025-03" });
    await on.open("");
    await opened.page.getByRole("button", { name: "add a condition" }).click();
    await opened.page.getByRole("button", { name: "raised (the main date)" }).click();
    await opened.page.getByLabel("Add first half of February to what is picked").check();
    await opened.page.getByLabel("Add March 2025 to what is picked").check();
    await opened.page.getByRole("button", { name: "Apply 2 windows" }).click();
    expect(await on.found(3)).toEqual(["W-02", "W-03", "W-06"]);
    await on.reopen("raised");
    await opened.page.getByRole("button", { name: /^last month/ }).click();
    await on.found(0);
    expect(new URL(opened.page.url()).search).toBe("?from=month-1&to=month-1");
    await client.deleteWindow("first-half");
    await client.deleteWindow("march");
  });

  test("move with the clock: another day is shown beside today", async () => {
    await on.open("?from=yesterday&to=today");
    await on.found(0);
    await opened.page.getByRole("button", { name: "As of another day" }).click();
    await opened.page.getByLabel("As it is on", { exact: true }).fill("2025-03-01");
    await opened.page.keyboard.press("Enter");
    expect(await on.found(3)).toEqual(["W-04", "W-05", "W-06"]);
    const beside = opened.page.getByRole("region", { name: "Another day", exact: true });
    await beside.getByText("W-04, W-05, W-06").waitFor();
    expect(await beside.innerText()).toContain("0 records");
    await opened.page.getByRole("button", { name: "a day later" }).click();
    expect(await on.found(1)).toEqual(["W-06"]);
    await opened.page.getByRole("button", { name: "Today", exact: true }).click();
    await on.found(0);
    // A day is written as people write it; one that can be two is picked.
    const day = opened.page.getByLabel("As it is on", { exact: true });
    await day.fill("1 March 2025");
    await opened.page.keyboard.press("Enter");
    expect(await on.found(3)).toEqual(["W-04", "W-05", "W-06"]);
    await day.fill("2/3/2025");
    await beside.getByText("This can mean:").waitFor();
    await beside.getByRole("button", { name: /2 March 2025|March 2, 2025/ }).click();
    expect(await on.found(1)).toEqual(["W-06"]);
    await day.fill("last month");
    await beside.getByText("Write a day").waitFor();
    expect(await beside.getByRole("button", { name: "Show", exact: true }).isDisabled()).toBe(true);
  });

  test("that were refused are put right by one press of what was probably meant", async () => {
    await on.open("?from=1+March+2025&form=2");
    await opened.page.getByRole("button", { name: "Use from", exact: true }).waitFor();
    await on.open("?from=2/3/2025");
    await opened.page.getByRole("button", { name: "Use 2025-02-03", exact: true }).waitFor();
    await opened.page.getByRole("button", { name: "Use 2025-03-02", exact: true }).click();
    expect(await on.found(0)).toEqual([]);
    expect(new URL(opened.page.url()).search).toBe("?from=2025-03-02");
    await on.open(`?filter=${encodeURIComponent("inWindow(raised, 'Feburary 2025')")}`);
    await opened.page.getByText("Invalid filter").waitFor();
    await on.open(`?filter=${encodeURIComponent("inWindow(raised, 'February 2025')")}`);
    await opened.page.getByRole("button", { name: "Use 2025-02", exact: true }).click();
    expect(await on.found(4)).toEqual(["W-02", "W-03", "W-04", "W-05"]);
  });
});

describe("cells", () => {
  test("narrow their column by keyboard alone", async () => {
    await on.open("?from=2025-01");
    await opened.page.locator("tbody tr").first().getByRole("button").first().focus();
    await opened.page.keyboard.press("ArrowRight");
    await opened.page.keyboard.press("ArrowDown");
    await opened.page.keyboard.press("Enter");
    const menu = opened.page.getByRole("dialog", { name: "From this raised" });
    await menu.getByText("Stored as 01/02/2025, text, read as 1 February 2025").waitFor();
    await opened.page.keyboard.press("Escape");
    await menu.waitFor({ state: "detached" });
    await opened.page.keyboard.press("Enter");
    await menu.getByRole("button", { name: "that day", exact: true }).click();
    expect(await on.found(1)).toEqual(["W-02"]);
  });

  test("are omitted, or what is as they are", async () => {
    await on.open("");
    await opened.page.getByRole("button", { name: "31/02/2025 (unreadable)" }).click();
    await opened.page.getByRole("button", { name: "none that is unreadable" }).click();
    expect(await on.found(9)).not.toContain("W-10");
    await opened.page.getByRole("button", { name: "next midnight" }).click();
    await opened.page.getByRole("button", { name: "not “next midnight”" }).click();
    const recordIds = await on.found(8);
    expect(recordIds).not.toContain("W-06");
    expect(recordIds).toContain("W-05");
  });
});

describe("instants", () => {
  test("are shown on the clocks of the listing, by which their day is judged", async () => {
    const { page, url, running } = opened;
    await running.client.declareListing("works-far", {
      source: "works",
      zone: "Asia/Kolkata",
      mainDate: "passed",
    });
    await page.goto(`${url}/listings/works-far`);
    const row = page.locator("tbody tr", { hasText: "W-05" });
    // 2025-02-28T23:59:59.999Z is the first of March there.
    const cell = row.getByRole("button", { name: /1.* 2025.*5:29.*5:30/ });
    await cell.press("Enter");
    const menu = page.getByRole("dialog", { name: "From this passed" });
    await menu.getByRole("button", { name: "that day", exact: true }).press("Enter");
    await page.getByText("2 of 10 records", { exact: true }).waitFor();
    expect(await page.locator("tbody tr td:first-child").allInnerTexts()).toEqual(
      expect.arrayContaining(["W-05", "W-06"]),
    );
    expect(new URL(page.url()).searchParams.get("from")).toBe("2025-03-01");
    await running.client.deleteListing("works-far");
  });
});

describe("groups of conditions", () => {
  const WITHIN = "cost >= 500 AND (note = 'blank' OR raised IS NULL)";
  const AROUND = "cost >= 500 AND note = 'blank' OR raised IS NULL";

  test("are distinguished as a tree and as CQL2, each of which follows the other", async () => {
    await on.open("");
    await opened.page.getByRole("button", { name: "add a condition" }).click();
    await opened.page.getByRole("button", { name: "groups of conditions" }).click();
    const text = opened.page.getByLabel("The same in CQL2");
    await text.fill(WITHIN);
    await opened.page.getByText("Keeps: cost at least 500 and (note").waitFor();
    expect(await opened.page.getByLabel("How the group combines").count()).toBe(2);
    await opened.page.getByRole("button", { name: "Apply", exact: true }).click();
    await on.found(0);
    await opened.page.getByRole("button", { name: "add a condition" }).click();
    await opened.page.getByRole("button", { name: "groups of conditions" }).click();
    await text.fill(AROUND);
    expect(await opened.page.getByLabel("How the group combines").first().inputValue()).toBe("any");
    await opened.page.getByRole("button", { name: "Apply", exact: true }).click();
    expect(await on.found(3)).toEqual(["W-07", "W-08", "W-09"]);
    await on.reopen("cost at least 500");
    await opened.page.getByLabel("Value for cost").fill("7");
    expect(await text.inputValue()).toContain("cost >= 7 AND");
    await opened.page.getByLabel("How the group combines").first().selectOption("not any");
    expect(await text.inputValue()).toMatch(/^NOT \(/);
    await opened.page.getByRole("button", { name: "Apply", exact: true }).click();
    await on.found(7);
  });

  test("omit what is typed and is no condition yet, and say what is wrong with it", async () => {
    const { page } = opened;
    await on.open(`?filter=${encodeURIComponent("cost >= 500 AND note LIKE '%day%'")}`);
    await page.getByRole("button", { name: "add a condition" }).click();
    await page.getByRole("button", { name: "groups of conditions" }).click();
    const text = page.getByLabel("The same in CQL2");
    await page.getByLabel("Value for cost").fill("dear");
    await page.getByText("column “cost” holds").waitFor();
    expect(await text.inputValue()).toBe("note LIKE '%day%'");
    await page.getByLabel("Value for cost").fill("700");
    expect(await text.inputValue()).toBe("cost >= 700 AND note LIKE '%day%'");
    await page.getByRole("button", { name: "Group", exact: true }).click();
    await page.getByRole("button", { name: "Condition", exact: true }).first().click();
    expect(await text.inputValue()).toBe("cost >= 700 AND note LIKE '%day%'");
    await page.getByRole("combobox", { name: "Column" }).last().selectOption("raised");
    await page.getByLabel("Value for raised").fill("2025-02");
    expect(await text.inputValue()).toBe(
      "cost >= 700 AND note LIKE '%day%' AND raised = DATE('2025-02')",
    );
    await page.getByRole("button", { name: "Remove the condition on cost" }).click();
    await page.getByRole("button", { name: "Remove this group" }).click();
    expect(await text.inputValue()).toBe("note LIKE '%day%'");
    await page.getByRole("button", { name: "Apply", exact: true }).click();
    await page.waitForURL((url) => url.searchParams.get("filter") === "note LIKE '%day%'");
  });

  test("say what is wrong with a text, and ask for nothing", async () => {
    await on.open("");
    await opened.page.getByRole("button", { name: "add a condition" }).click();
    await opened.page.getByRole("button", { name: "groups of conditions" }).click();
    await opened.page.getByLabel("The same in CQL2").fill("coast >= 500");
    await opened.page.getByText(/coast.*: cost\?/).waitFor();
    expect(await opened.page.getByRole("button", { name: "Apply", exact: true }).isDisabled()).toBe(
      true,
    );
  });

  test("stand in the sentence part by part, and go one by one", async () => {
    await on.open(`?filter=${encodeURIComponent("cost >= 500 AND note LIKE '%day%'")}`);
    expect(await on.found(2)).toEqual(["W-01", "W-04"]);
    await opened.page.getByRole("button", { name: "Remove: cost at least 500" }).click();
    await opened.page.waitForURL((url) => url.searchParams.get("filter") === "note LIKE '%day%'");
    // With the answer the clause is drawn anew, since its place in the filter is another.
    await opened.page
      .getByRole("button", { name: "Remove: cost at least 500" })
      .waitFor({ state: "detached" });
    await on.drawn();
    await opened.page.getByRole("button", { name: /^Remove: note/ }).click();
    await on.found(10);
  });
});

describe("what is found", () => {
  test("is counted together, with totals that add up", async () => {
    await on.open("?from=2025-01#summary");
    const figures = opened.page.getByRole("region", { name: "Figures" });
    await figures.getByRole("rowheader", { name: "2025-02" }).waitFor();
    expect(await figures.locator("tbody tr td:nth-child(2)").allInnerTexts()).toEqual([
      "1",
      "4",
      "1",
    ]);
    expect(await figures.locator("tfoot td").first().innerText()).toBe("6");
    await opened.page.getByRole("combobox", { name: "Figure" }).selectOption("sum:cost");
    await figures.getByText("4,511").waitFor();
    const download = opened.page.waitForEvent("download");
    await opened.page.getByRole("button", { name: "These figures as CSV" }).click();
    expect((await download).suggestedFilename()).toBe("works-asked-summary.csv");
  });

  test("has the columns that are picked, in the order that is wanted; figures and files follow", async () => {
    await on.open("?from=2025-03");
    await opened.page.getByRole("button", { name: "Columns shown" }).click();
    await opened.page.getByLabel("passed", { exact: true }).uncheck();
    await opened.page.getByRole("button", { name: "note earlier" }).click();
    await opened.page.waitForURL(/columns=note/);
    await on.drawn();
    const headings = async () =>
      (await opened.page.locator("thead th").allInnerTexts()).map((text) =>
        text.split(/\s/).at(-1),
      );
    await opened.page.waitForFunction(() => document.querySelectorAll("thead th").length === 4);
    expect(await headings()).toEqual(["order", "raised", "note", "cost"]);
    await opened.page.getByRole("button", { name: "Download", exact: true }).click();
    const href = await opened.page
      .getByRole("link", { name: "CSV", exact: true })
      .getAttribute("href");
    const csv = await (await opened.page.request.get(`${opened.url}${href ?? ""}`)).text();
    expect(csv.split(/\r?\n/)[0]).toBe("order,raised,note,cost");
    await opened.page.keyboard.press("Escape");
    await opened.page.getByRole("button", { name: "All columns" }).click();
    await opened.page.waitForFunction(() => document.querySelectorAll("thead th").length === 5);
  });

  test("is taken away in every format", async () => {
    await on.open("?from=2025-02&to=2025-02");
    await opened.page.getByRole("button", { name: "Download", exact: true }).click();
    for (const [name, type] of [
      ["CSV", "text/csv"],
      ["Excel workbook", "spreadsheetml"],
      ["NDJSON", "ndjson"],
    ] as const) {
      const href = await opened.page.getByRole("link", { name, exact: true }).getAttribute("href");
      const response = await opened.page.request.get(`${opened.url}${href ?? ""}`);
      expect(response.headers()["content-type"]).toContain(type);
      if (name !== "CSV") continue;
      const lines = (await response.text()).trim().split(/\r?\n/);
      expect(lines).toHaveLength(5);
      expect(lines[1]).toContain("W-02");
      expect(lines.join()).not.toContain("W-06");
    }
  });
});

describe("what is expected", () => {
  test("is compared by ids and by number: what is missing and what is too much is named", async () => {
    await on.open("?from=2025-02-28#explain");
    const part = opened.page.getByLabel("order of the records, one a line; or a number");
    await part.fill("W-04\nW-05\nW-09\n");
    await opened.page.getByRole("button", { name: "Compare" }).press("Enter");
    await opened.page.getByText("Missing (1):").waitFor();
    await opened.page.getByText("Not expected (1):").waitFor();
    expect(await opened.page.locator("p", { hasText: "Missing (1):" }).innerText()).toContain(
      "W-09",
    );
    expect(await opened.page.locator("p", { hasText: "Not expected" }).innerText()).toContain(
      "W-06",
    );
    await part.fill("W-06\nW-05\nW-04");
    await opened.page.getByRole("button", { name: "Compare" }).press("Enter");
    await opened.page.getByText("Exact match: 3 records.").waitFor();
    await part.fill("4");
    await opened.page.getByRole("button", { name: "Compare" }).press("Enter");
    await opened.page.getByText("3 records, not 4.").waitFor();
  });
});
