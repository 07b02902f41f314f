import { describe, expect, test } from "@jest/globals";
import { ASKED, requestedPage } from "./requested.js";
import { consoleOfTests } from "./browser.js";
import { Person } from "./person.js";

const opened = consoleOfTests(async ({ running }) => {
  await running.client.declareListing("works-asked", ASKED);
  await running.client.declareListing("works-brief", { source: "works", mainDate: "raised" });
});
const on = requestedPage(opened);

describe("the fewest acts of a person", () => {
  test("a window by its name: 2", async () => {
    const person = new Person(opened);
    await on.open("?asOf=2025-03-10");
    await person.press(person.button("raised at any time"));
    await person.press(opened.page.getByRole("button", { name: /^last month/ }));
    expect(await on.found(4)).toEqual(["W-02", "W-03", "W-04", "W-05"]);
    expect(person.acts).toBe(2);
  });

  test("a date that is typed: 2", async () => {
    const person = new Person(opened);
    await on.open("");
    await person.press(person.button("raised at any time"));
    await person.type(opened.page.getByLabel("from", { exact: true }), "1 March 2025");
    expect(await on.found(1)).toEqual(["W-06"]);
    expect(person.acts).toBe(2);
  });

  test("the last three months: 2", async () => {
    const person = new Person(opened);
    await on.open("?asOf=2025-04-10");
    await person.press(person.button("raised at any time"));
    await person.press(
      opened.page.getByRole("region", { name: "Windows by name" }).getByRole("button", {
        name: "Apply",
        exact: true,
      }),
    );
    expect(await on.found(6)).toContain("W-01");
    expect(person.acts).toBe(2);
  });

  test("three months, two values, and those without a date: 7 at most", async () => {
    const { page } = opened;
    const person = new Person(opened);
    await on.open("?asOf=2025-04-10");
    await person.press(person.button("raised at any time"));
    await person.press(
      page.getByRole("region", { name: "Windows by name" }).getByRole("button", {
        name: "Apply",
        exact: true,
      }),
    );
    await on.found(6);
    person.acts++;
    await page.keyboard.press("Control+k");
    const typed = "note next midnight, blank";
    await person.type(page.getByLabel("Search commands").last(), typed);
    expect(await on.found(1)).toEqual(["W-06"]);
    await person.press(person.button(/^raised (?!at any time)/).first());
    await person.press(page.getByRole("button", { name: /^include blanks/ }));
    expect(await on.found(2)).toEqual(["W-07", "W-06"]);
    expect(person.acts).toBeLessThanOrEqual(7);
  });

  test("a phrase, a value or a record, from the palette: 2", async () => {
    const palette = async (text: string) => {
      const person = new Person(opened);
      person.acts++;
      await opened.page.keyboard.press("Control+k");
      await person.type(opened.page.getByLabel("Search commands").last(), text);
      expect(person.acts).toBe(2);
    };
    await on.open("");
    await palette("February 2025");
    expect(await on.found(4)).toEqual(["W-02", "W-03", "W-04", "W-05"]);
    await palette("note last moment");
    expect(await on.found(1)).toEqual(["W-05"]);
    await palette("W-06");
    await opened.page.getByText("W-06 is out.").waitFor();
    // What has two meanings is there with both.
    await opened.page.keyboard.press("Control+k");
    await opened.page.getByLabel("Search commands").last().fill("2/3/2025");
    const options = opened.page.getByRole("option", { name: /^raised: on / });
    await options.nth(1).waitFor();
    expect(await options.allInnerTexts()).toEqual([
      "raised: on 2 March 2025",
      "raised: on 3 February 2025",
    ]);
    await opened.page.keyboard.press("Escape");
  });

  test("one value from a cell: 2", async () => {
    const person = new Person(opened);
    await on.open("");
    await person.press(opened.page.getByRole("button", { name: "in the middle", exact: true }));
    await person.press(opened.page.getByRole("dialog").getByRole("button").first());
    expect(await on.found(1)).toEqual(["W-03"]);
    expect(person.acts).toBe(2);
  });

  test("why a record is here, with all its cells: 2", async () => {
    const person = new Person(opened);
    await on.open("?from=2025-02-28");
    await person.press(opened.page.getByRole("button", { name: "last moment", exact: true }));
    await person.press(person.button("why this record is here"));
    const panel = opened.page.getByRole("region", {
      name: "Why a record is included or excluded",
    });
    await panel.getByText("W-05 is in.").waitFor();
    await panel.getByText("28/02/2025").waitFor();
    expect(person.acts).toBe(2);
    expect(new URL(opened.page.url()).hash).toBe("#record=W-05");
    await opened.page.reload();
    await panel.getByText("W-05 is in.").waitFor();
  });

  test("a download: 2", async () => {
    const person = new Person(opened);
    await on.open("?from=2025-02&to=2025-02");
    const downloads = opened.page.waitForEvent("download");
    await person.press(person.button("Download"));
    await person.press(opened.page.getByRole("link", { name: "CSV" }));
    expect((await downloads).suggestedFilename()).toContain(".csv");
    expect(person.acts).toBe(2);
  });

  test("an edge of the ribbon: 1", async () => {
    await on.open("?from=2025-02-01&to=2025-02-28");
    const edge = opened.page.getByRole("slider", { name: "Beginning of the window" });
    await edge.focus();
    await opened.page.keyboard.press("Home");
    await opened.page.waitForURL((url) => url.searchParams.get("from") !== "2025-02-01");
  });
});

describe("what was applied", () => {
  test("closes its editor, over which the records are in sight; what is refused is there again", async () => {
    await on.open("");
    await opened.page.getByRole("button", { name: "raised at any time" }).click();
    const field = opened.page.getByLabel("from", { exact: true });
    await field.waitFor();
    const editor = opened.page.getByRole("group", { name: "Change" });
    expect((await editor.boundingBox())?.height ?? 999).toBeLessThanOrEqual(360);
    // It stands over the records, and moves none of them.
    const before = await opened.page.locator("tbody tr").first().boundingBox();
    await field.fill("2025-02-28");
    await opened.page.keyboard.press("Enter");
    await editor.waitFor({ state: "detached" });
    await on.found(3);
    expect(await opened.page.locator("tbody tr").first().boundingBox()).toMatchObject({
      y: before?.y,
    });
    // The focus is at the clause that says it.
    expect(await opened.page.evaluate(() => document.activeElement?.textContent ?? "")).toContain(
      "raised",
    );
    await opened.page.keyboard.press("Enter");
    await field.fill("31/02/2025");
    await opened.page.keyboard.press("Enter");
    await opened.page.getByText("Invalid filter").waitFor();
    expect(await field.inputValue()).toBe("31/02/2025");
    await opened.page.keyboard.press("Escape");
    await editor.waitFor({ state: "detached" });
  });

  test("is put right in the address too where its ends were reversed, and that is said", async () => {
    const { page } = opened;
    await on.open("?from=2025-03&to=2025-02&order=-cost");
    await page.waitForURL((url) => url.searchParams.get("from") === "2025-02");
    expect(new URL(page.url()).search).toBe("?from=2025-02&to=2025-03&order=-cost");
    await page.getByText("The dates were in reverse order and were swapped").waitFor();
    expect(await on.found(5)).toHaveLength(5);
    // The address as it was sent is none to go back to.
    await page.reload();
    await on.found(5);
    expect(await page.getByText("were swapped").count()).toBe(0);
  });

  test("is put right where both ends stand in one parameter", async () => {
    const { page, url } = opened;
    await page.goto(`${url}/listings/works-brief?raised=2025-03/2025-02`);
    await page.waitForURL((at) => at.searchParams.get("raised") === "2025-02/2025-03");
    await page.getByText("The dates were in reverse order and were swapped").waitFor();
    await page.getByText("5 of 10 records", { exact: true }).waitFor();
    await page.goto(`${url}/listings/works-brief?cost=600/100&raised=2025-02`);
    await page.waitForURL((at) => at.searchParams.get("cost") === "100/600");
    expect(new URL(page.url()).searchParams.get("raised")).toBe("2025-02");
  });

  test("is closed by a press outside, and nothing is applied", async () => {
    await on.open("");
    await opened.page.getByRole("button", { name: "raised at any time" }).click();
    await opened.page.getByLabel("from", { exact: true }).fill("2025-02-28");
    await opened.page.mouse.click(1200, 780);
    await opened.page.getByRole("group", { name: "Change" }).waitFor({ state: "detached" });
    await on.found(10);
  });

  test("is reset with order and columns, and the reset is undone, by the button or Ctrl+Z", async () => {
    const search = "?from=2025-02-28&order=-cost&columns=order&columns=cost";
    await on.open(search);
    await on.found(3);
    await opened.page.getByRole("button", { name: "Reset filters" }).click();
    await on.found(10);
    expect(new URL(opened.page.url()).search).toBe("");
    await opened.page.getByRole("button", { name: "Undo reset" }).click();
    await on.found(3);
    expect(new URL(opened.page.url()).search).toBe(search);
    await opened.page.getByRole("button", { name: "Reset filters" }).click();
    await on.found(10);
    await opened.page.keyboard.press("Control+z");
    await on.found(3);
  });

  test("is copied as a link whose dates go on moving, or stay", async () => {
    await opened.page.context().grantPermissions(["clipboard-read", "clipboard-write"]);
    await on.open("?from=month-1");
    const copied = async (name: string) => {
      await opened.page.getByRole("button", { name: "Copy link" }).click();
      await opened.page.getByRole("button", { name }).click();
      await opened.page.getByText(/^Link copied/).waitFor();
      return new URL(await opened.page.evaluate(() => navigator.clipboard.readText()));
    };
    expect((await copied("Dates that go on moving")).search).toBe("?from=month-1");
    const fixed = (await copied("Dates as they are now")).searchParams;
    expect(fixed.get("from")).toBe("month-1");
    expect(fixed.get("asOf")).toMatch(/^\d{4}-\d\d-\d\dT/);
  });
});

describe("headings", () => {
  test("put the records in order, with Shift after the others", async () => {
    await on.open("");
    const heading = (name: string) => opened.page.getByRole("columnheader", { name });
    await heading("raised").getByRole("button").click();
    await opened.page.waitForURL(/order=-raised$/);
    await on.drawn();
    await heading("cost").getByRole("button").focus();
    await opened.page.keyboard.press("Shift+Enter");
    await opened.page.waitForURL(/order=-raised&order=-cost$/);
    await on.drawn();
    const ids = await on.found(10);
    // On 28 February there are two: the one with a cost comes first.
    expect(ids.filter((id) => id === "W-04" || id === "W-05")).toEqual(["W-04", "W-05"]);
    await opened.page.keyboard.press("Shift+Enter");
    await opened.page.waitForURL(/order=-raised&order=cost$/);
    await heading("cost").getByRole("button").click();
    await opened.page.waitForURL(/order=-cost$/);
    expect(await opened.page.getByTitle("This listing does not sort by note").count()).toBe(1);
  });
});

describe("an address that is no page's", () => {
  test("says so, and leads to the listings", async () => {
    await opened.page.goto(`${opened.url}/no/such/page`);
    await opened.page.getByText("There is no page at /no/such/page").waitFor();
    await opened.page.getByRole("link", { name: "All listings" }).click();
    await opened.page.getByRole("searchbox", { name: "Find a listing" }).fill("asked");
    const row = opened.page.getByRole("row", { name: /^Works works 10 / });
    await row.waitFor();
    expect(await opened.page.getByRole("row").count()).toBe(2);
    await opened.page.getByRole("columnheader", { name: "Last used" }).waitFor();
    expect(await row.innerText()).not.toContain("never");
    // One whose records nobody has read.
    await opened.running.client.declareListing("new-here", { source: "works", mainDate: "raised" });
    await opened.page.goto(`${opened.url}/listings`);
    await opened.page.getByRole("row", { name: /^new-here works 10 .* never / }).waitFor();
    await opened.running.client.deleteListing("new-here");
  });
});

describe("the first screen", () => {
  test("has rows of one line, whose long strings are whole when they have the focus", async () => {
    const { page, running } = opened;
    await page.setViewportSize({ width: 700, height: 800 });
    try {
      await running.client.declareListing("works-asked", ASKED);
      await on.open("");
      const rows = page.locator("tbody tr");
      const heights = await rows.evaluateAll((all) =>
        all.map((row) => Math.round(row.getBoundingClientRect().height)),
      );
      expect(Math.max(...heights)).toBeLessThanOrEqual(40);
    } finally {
      await page.setViewportSize({ width: 1280, height: 800 });
    }
  });

  // Twice as large, a page of 1280 by 800 has half of it.
  test.each([
    [640, 400],
    [360, 640],
  ])("has records at %i by %i", async (width, height) => {
    const { page } = opened;
    await page.setViewportSize({ width, height });
    try {
      await on.open("");
      const bottoms = await page
        .locator("tbody tr")
        .evaluateAll((rows) => rows.map((row) => row.getBoundingClientRect().bottom));
      expect(bottoms.filter((bottom) => bottom <= height).length).toBeGreaterThanOrEqual(3);
      // What has no room in the bar is under More.
      await page.getByRole("button", { name: "More", exact: true }).click();
      await page.getByRole("button", { name: "Summarise", exact: true }).click();
      await page.getByRole("region", { name: "Summarise" }).waitFor();
    } finally {
      await page.setViewportSize({ width: 1280, height: 800 });
    }
  });

  test("has more rows where they are compact, which is remembered", async () => {
    const { page } = opened;
    const height = async () => {
      await on.open("");
      const box = await page.locator("tbody tr").first().boundingBox();
      return Math.round(box?.height ?? 0);
    };
    expect(await height()).toBeGreaterThan(35);
    await page.getByRole("button", { name: "More", exact: true }).click();
    await page.getByRole("button", { name: "Compact rows" }).click();
    // No lower than what a finger finds.
    expect(await height()).toBeLessThan(30);
    expect(await height()).toBeGreaterThanOrEqual(24);
    await page.getByRole("button", { name: "More", exact: true }).click();
    await page.getByRole("button", { name: "Roomy rows" }).click();
    expect(await height()).toBeGreaterThan(35);
  });

  test("has a line with the count and the headings at its top when it is scrolled", async () => {
    const { page } = opened;
    await page.setViewportSize({ width: 1280, height: 320 });
    try {
      await on.open("");
      await page.mouse.move(800, 280);
      await page.mouse.wheel(0, 250);
      await page.getByTitle("Back to the top").waitFor();
      const top = await page.locator("thead").evaluate((head) => head.getBoundingClientRect().top);
      expect(Math.round(top)).toBe(36);
    } finally {
      await page.setViewportSize({ width: 1280, height: 800 });
    }
  });
});
