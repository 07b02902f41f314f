import type { NewListing } from "@orisma/client";
import { describe, expect, test } from "@jest/globals";
import { consoleOfTests, heldBack } from "./browser.js";
import { requestedPage } from "./requested.js";

const CSV = `ref,opened,depth,boats,lit,task
B-1,01/02/2025,1.20,0,yes,Dredge the approach
B-2,28/02/2025,1.50,4,no,Mend the gate seal
B-3,01/03/2025,2.05,12,yes,Renew the boards
B-4,,2.50,30,,Dredge the winding hole
`;

/** A listing in which there is a parameter of every other kind. */
const BERTHS: NewListing = {
  title: "Berths",
  source: "berths",
  zone: "Europe/London",
  mainDate: "opened",
  parameters: [
    { name: "since", type: "date", column: "opened", comparison: "from", pair: "opened" },
    { name: "until", type: "date", column: "opened", comparison: "to", pair: "opened" },
    { name: "never", type: "date", column: "opened", comparison: "notOn" },
    { name: "least", type: "integer", column: "boats", comparison: "atLeast", pair: "boats" },
    { name: "most", type: "integer", column: "boats", comparison: "below", pair: "boats" },
    { name: "depth", type: "range", column: "depth", comparison: "within" },
    { name: "lit", type: "boolean", column: "lit", comparison: "is" },
    { name: "find", type: "search", columns: ["ref", "task"], comparison: "contains" },
    { name: "begins", type: "text", column: "task", comparison: "begins" },
  ],
  order: { allowed: ["opened", "boats"], default: "boats" },
};

const opened = consoleOfTests(async ({ running: { client } }) => {
  await client.createSource({
    name: "berths",
    key: "ref",
    columns: {
      opened: {
        type: "date",
        reading: { kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"] },
      },
      depth: { type: "decimal" },
      boats: { type: "integer" },
      lit: { type: "boolean" },
    },
  });
  await client.importFile("berths", CSV);
  await client.declareListing("berths", BERTHS);
  await client.declareListing("berths-asked", {
    source: "berths",
    mainDate: "opened",
    filter: { columns: "all" },
    choices: { task: { groups: { boards: ["Renew the boards"] } } },
    parameters: [
      {
        name: "task",
        type: "oneOf",
        column: "task",
        comparison: "is",
        values: ["Renew the boards", "Mend the gate seal"],
      },
    ],
  });
  await client.declareListing("berths-soon", {
    title: "Berths soon",
    source: "berths",
    mainDate: "opened",
    parameters: [
      { name: "from", type: "date", column: "opened", comparison: "from", pair: "opened" },
      { name: "to", type: "date", column: "opened", comparison: "to", pair: "opened" },
      {
        name: "in",
        type: "window",
        column: "opened",
        comparison: "on",
        blanks: "include",
        default: "2025-03",
      },
      {
        name: "task",
        type: "several",
        column: "task",
        comparison: "among",
        default: ["Renew the boards"],
      },
    ],
  });
});

async function open(query = ""): Promise<void> {
  await opened.page.goto(`${opened.url}/listings/berths${query}`);
  await opened.page.getByText("of 4 records").waitFor();
}

/** Opens something of the sentence by keyboard alone. */
async function ask(what: string): Promise<void> {
  await opened.page.keyboard.press("/");
  await editor().getByRole("button", { name: what, exact: true }).press("Enter");
}

const { reopen } = requestedPage(opened);

/** What is opened in the sentence. */
function editor() {
  return opened.page.getByRole("group", { name: "Change" });
}

/** Waits for a number of records, and reports which they are. */
async function found(count: number): Promise<readonly string[]> {
  await opened.page.getByText(`${count} of 4 records`, { exact: true }).waitFor();
  await opened.page.locator("section[aria-label=Answer][aria-busy=false]").waitFor();
  return opened.page.locator("tbody tr td:first-child").allInnerTexts();
}

describe("dates as people write them", () => {
  test("are echoed as the dates that they mean, and sent as these", async () => {
    await open();
    await ask("opened (the main date)");
    const from = opened.page.getByLabel("from", { exact: true });
    await from.fill("1st of February, 2025");
    await opened.page.getByText("2025-02-01: 1 February 2025").waitFor();
    await opened.page.getByLabel("up to and including", { exact: true }).fill("28.2.2025");
    await opened.page.keyboard.press("Enter");
    expect(await found(2)).toEqual(["B-1", "B-2"]);
    const { searchParams } = new URL(opened.page.url());
    expect([searchParams.get("since"), searchParams.get("until")]).toEqual([
      "2025-02-01",
      "2025-02-28",
    ]);
    await reopen("opened");
    expect(await from.inputValue()).toBe("2025-02-01");
  });

  test("with two meanings are two buttons, of which one is pressed", async () => {
    await open();
    await ask("opened (the main date)");
    const from = opened.page.getByLabel("from", { exact: true });
    await from.fill("1/3/2025");
    await opened.page.getByRole("button", { name: "3 January 2025", exact: true }).waitFor();
    expect(await from.getAttribute("aria-invalid")).toBe("true");
    await opened.page.getByRole("button", { name: "1 March 2025", exact: true }).press("Enter");
    expect(await from.inputValue()).toBe("2025-03-01");
    await from.press("Enter");
    expect(await found(1)).toEqual(["B-3"]);
  });
});

describe("parameters of every kind, by keyboard alone", () => {
  test("a pair of numbers, of which one bound is in and the other is not", async () => {
    await open();
    await ask("boats");
    await opened.page.getByLabel("at least").fill("4");
    await opened.page.getByLabel("below", { exact: true }).fill("30");
    await opened.page.keyboard.press("Enter");
    expect(await found(2)).toEqual(["B-2", "B-3"]);
    expect(new URL(opened.page.url()).searchParams.get("most")).toBe("30");
    await opened.page.reload();
    await opened.page.getByRole("button", { name: /^boats .*30$/ }).press("Enter");
    expect(await opened.page.getByLabel("below", { exact: true }).inputValue()).toBe("30");
    await opened.page.getByLabel("below", { exact: true }).fill("31");
    await opened.page.keyboard.press("Enter");
    expect(await found(3)).toEqual(["B-2", "B-3", "B-4"]);
  });

  test("a range of numbers, of which both ends are in", async () => {
    await open();
    await ask("depth");
    await opened.page.getByLabel("within").fill("1.5/2.05");
    await opened.page.keyboard.press("Enter");
    expect(await found(2)).toEqual(["B-2", "B-3"]);
    await reopen("depth");
    await opened.page.getByLabel("within").fill("deep");
    await opened.page.keyboard.press("Enter");
    await opened.page.getByText("Invalid filter").waitFor();
    expect(await opened.page.getByLabel("within").getAttribute("aria-invalid")).toBe("true");
  });

  test("yes and no: which of them is requested is seen, and neither", async () => {
    await open();
    await ask("lit");
    await editor().getByRole("button", { name: "no", exact: true }).press("Enter");
    expect(await found(1)).toEqual(["B-2"]);
    await reopen("lit");
    await opened.page.locator("button[aria-pressed=true]", { hasText: /^no$/ }).waitFor();
    await editor().getByRole("button", { name: "yes", exact: true }).press("Enter");
    expect(await found(2)).toEqual(["B-1", "B-3"]);
    await opened.page.getByRole("button", { name: /^Remove: lit/ }).press("Enter");
    expect(await found(4)).toHaveLength(4);
  });

  test("what the listing searches is found from its bar: one text, and nothing once it is empty", async () => {
    const { page, url } = opened;
    await page.goto(`${url}/listings/berths`);
    const field = page.getByRole("searchbox", { name: "Find in ref, task" });
    await field.waitFor();
    const all = await page.locator("tbody tr").count();
    await page.keyboard.press("f");
    await page.keyboard.type("dredge");
    await page.keyboard.press("Enter");
    await page.waitForURL((address) => address.searchParams.get("find") === "dredge");
    await page
      .getByRole("button", { name: /^find contains “dredge”|dredge/ })
      .first()
      .waitFor();
    await page.locator("section[aria-label=Answer][aria-busy=false]").waitFor();
    const found = await page.locator("tbody tr").allInnerTexts();
    expect([found.length > 0, found.length < all]).toEqual([true, true]);
    expect(found.every((row) => /dredge/i.test(row))).toBe(true);
    expect(await field.inputValue()).toBe("dredge");
    await field.press("Escape");
    await page.waitForURL((address) => !address.searchParams.has("find"));
    expect(await field.inputValue()).toBe("");
  });

  test("a search in several columns, and a text that begins so", async () => {
    await open();
    await ask("find …");
    await opened.page.getByRole("textbox", { name: "find" }).fill("DREDGE");
    await opened.page.keyboard.press("Enter");
    expect(await found(2)).toEqual(["B-1", "B-4"]);
    await open();
    await ask("task");
    await opened.page.getByLabel("begins with").fill("Mend");
    await opened.page.keyboard.press("Enter");
    expect(await found(1)).toEqual(["B-2"]);
  });

  test("a date that is to be omitted, shown in words as it is typed", async () => {
    await open();
    await ask("opened (the main date)");
    await opened.page.getByLabel("not in", { exact: true }).fill("2025-02");
    await opened.page.getByText("February 2025").first().waitFor();
    await opened.page.keyboard.press("Enter");
    expect(await found(1)).toEqual(["B-3"]);
  });
});

describe("without a parameter of its own", () => {
  test("yes and no are requested by a condition, from the sentence and from a cell", async () => {
    const { page, url } = opened;
    await page.goto(`${url}/listings/berths-asked`);
    expect(await found(4)).toHaveLength(4);
    await ask("lit");
    await editor().getByRole("button", { name: "yes", exact: true }).press("Enter");
    expect(await found(2)).toEqual(["B-3", "B-1"]);
    expect(new URL(page.url()).searchParams.get("filter")).toBe("lit = TRUE");
    await reopen("lit");
    await page.locator("button[aria-pressed=true]", { hasText: /^yes$/ }).waitFor();
    await editor().getByRole("button", { name: "no", exact: true }).press("Enter");
    // What is blank is neither.
    expect(await found(1)).toEqual(["B-2"]);
    const cell = page.locator("tbody tr", { hasText: "B-2" }).getByRole("button", { name: "no" });
    await cell.press("Enter");
    const menu = page.getByRole("dialog", { name: "From this lit" });
    await menu.getByRole("button", { name: "only no", exact: true }).press("Enter");
    expect(await found(1)).toEqual(["B-2"]);
    await page.getByRole("button", { name: /^Remove: lit/ }).press("Enter");
    expect(await found(4)).toHaveLength(4);
  });

  test("a value that its parameter does not take is seen, and requested by a condition", async () => {
    const { page, url } = opened;
    await page.goto(`${url}/listings/berths-asked`);
    expect(await found(4)).toHaveLength(4);
    await ask("task");
    const row = editor().getByRole("button", { name: /^Dredge the approach/ });
    expect(await row.isDisabled()).toBe(true);
    await page.keyboard.press("Escape");
    await editor().waitFor({ state: "detached" });
    await page.getByRole("button", { name: "Dredge the approach" }).press("Enter");
    const menu = page.getByRole("dialog", { name: "From this task" });
    await menu.getByRole("button", { name: "only “Dredge the approach”" }).press("Enter");
    expect(await found(1)).toEqual(["B-1"]);
    expect(new URL(page.url()).searchParams.get("task")).toBeNull();
  });
});

describe("on another day", () => {
  test("what is typed and what has a name go by that day, in the listing's zone", async () => {
    await open("?asOf=2025-03-01T00:30:00%2B14:00");
    // It is 28 February in London then.
    await opened.page.keyboard.press("d");
    await opened.page.getByLabel("from", { exact: true }).fill("today");
    await opened.page.getByText("28 February 2025").first().waitFor();
    const windows = opened.page.getByRole("region", { name: "Windows by name" });
    await windows.getByText("from 1 February 2025").count();
    await opened.page.getByLabel("from", { exact: true }).press("Enter");
    expect(await found(2)).toEqual(["B-2", "B-3"]);
  });
});

describe("the calendar", () => {
  test("leads to a month that is far by the months of its year, with their records", async () => {
    await open("?since=2025-02-01");
    await opened.page.getByRole("button", { name: /^opened from/ }).press("Enter");
    const calendar = opened.page.getByRole("region", { name: "Calendar" });
    await calendar.getByTitle("The months of the year").press("Enter");
    for (;;) {
      const year = Number(await calendar.getByRole("heading").innerText());
      if (year === 2025) break;
      const way = year > 2025 ? "The year before" : "The year after";
      await calendar.getByRole("button", { name: way }).press("Enter");
    }
    await calendar.getByRole("button", { name: "February 2025, 2 records" }).press("Enter");
    await calendar.getByRole("button", { name: "28 February 2025, 1 record" }).waitFor();
  });
});

describe("what is there by default", () => {
  test("gives way to what is picked, and does not narrow what is offered", async () => {
    const { page, url } = opened;
    await page.goto(`${url}/listings/berths-soon?task=..`);
    expect(await found(2)).toEqual(["B-3", "B-4"]);
    await page.getByRole("button", { name: /^opened in March 2025/ }).press("Enter");
    const calendar = page.getByRole("region", { name: "Calendar" });
    await calendar.getByRole("button", { name: "The month before" }).press("Enter");
    const day = calendar.getByRole("button", { name: "28 February 2025, 1 record" });
    await day.press("Enter");
    await day.press("Enter");
    expect(await found(1)).toEqual(["B-2"]);
    expect(new URL(page.url()).searchParams.get("in")).toBe("..");
    await page.getByRole("button", { name: "Reset filters" }).press("Enter");
    // Both defaults are there once more.
    await page.locator("tbody td", { hasText: "B-3" }).first().waitFor();
    expect(await found(1)).toEqual(["B-3"]);
  });

  test("is ticked among the values, and can be taken away for none of them", async () => {
    const { page, url } = opened;
    await page.goto(`${url}/listings/berths-soon?in=..`);
    expect(await found(1)).toEqual(["B-3"]);
    const held = await heldBack(page, "**/choices/*");
    await page.getByRole("button", { name: "task Renew the boards", exact: true }).press("Enter");
    await page.getByRole("region", { name: "Offer" }).waitFor();
    // What is not known yet is not said to be in no record.
    expect(await page.getByText("without records now").count()).toBe(0);
    await held.end();
    const tick = page.getByLabel("Select Renew the boards");
    expect(await tick.isChecked()).toBe(true);
    expect(held.asked()).toBe(1);
    await tick.press(" ");
    await page.getByRole("button", { name: "Select none" }).press("Enter");
    expect(await found(4)).toHaveLength(4);
  });
});

describe("what a declaration withholds", () => {
  test("is not offered from the next load on: a calendar, windows, values, blanks", async () => {
    const { page, url, running } = opened;
    const bare = { ...BERTHS, title: "Bare berths", filter: { columns: "all" } } as const;
    await running.client.declareListing("berths-bare", bare);
    await page.goto(`${url}/listings/berths-bare`);
    await page.getByText("4 of 4 records").waitFor();
    await ask("opened (the main date)");
    await page.getByRole("region", { name: "Calendar" }).waitFor();
    await page.getByRole("region", { name: "Windows by name" }).waitFor();
    await page.getByRole("region", { name: "Without a value" }).waitFor();
    await running.client.declareListing("berths-bare", {
      ...bare,
      choices: {
        opened: { blanks: false, calendar: false, windows: false },
        ref: { values: false },
      },
    });
    await page.reload();
    await page.getByText("4 of 4 records").waitFor();
    await ask("opened (the main date)");
    await page.getByLabel("not in", { exact: true }).waitFor();
    for (const name of ["Calendar", "Windows by name", "Without a value"]) {
      expect(await page.getByRole("region", { name }).count()).toBe(0);
    }
    await page.keyboard.press("Escape");
    await ask("ref");
    await editor().getByRole("heading", { name: "ref" }).waitFor();
    expect(await page.getByRole("region", { name: "Values of ref" }).count()).toBe(0);
    // Which records are shown is as before, and what is offered of the others is.
    await page.keyboard.press("Escape");
    await ask("depth");
    await page.getByRole("region", { name: "Without a value" }).waitFor();
  });

  test("is withheld by the service too, and of dates there is no list to declare", async () => {
    const { client } = opened.running;
    const { choices } = await client.choices("berths-bare", "ref");
    expect(choices).toEqual([]);
    expect((await client.choices("berths", "ref")).choices).toHaveLength(4);
    const listed = { ...BERTHS, choices: { opened: { hidden: ["2025-02-01"] } } };
    await expect(client.declareListing("berths-listed", listed)).rejects.toMatchObject({
      status: 422,
      problem: { faults: [{ code: "column.notChosen", path: "choices.opened.hidden" }] },
    });
  });
});
