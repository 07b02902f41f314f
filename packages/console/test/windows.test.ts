import { describe, expect, test } from "@jest/globals";
import { join } from "node:path";
import type * as core from "@orisma/core/internal";
import { PHRASE_CASES } from "../../../test/phrases.js";
import { consoleOfTests } from "./browser.js";

const opened = consoleOfTests();

async function open(query: Readonly<Record<string, string>>, place = ""): Promise<void> {
  await opened.page.goto(`${opened.url}/windows?${new URLSearchParams(query).toString()}${place}`);
  await opened.page.getByRole("heading", { name: "Try a window" }).waitFor();
}

/** Waits for the sentence of the window, which begins so. */
function told(sentence: string): Promise<void> {
  return opened.page.locator("p.font-sentence", { hasText: new RegExp(`^${sentence}`) }).waitFor();
}

const ASKED = { zone: "Europe/London", asOf: "2024-05-15T13:30:05Z" };

describe("the bench for windows", () => {
  test("reports a window in words as it is typed, with its edges and when it next changes", async () => {
    await open({ ...ASKED, window: "month-1" });
    await opened.page.getByText("1–30 April 2024, Europe/London.").waitFor();
    await opened.page.getByText("next changes at 2024-05-31T23:00:00Z").waitFor();
    const edges = opened.page.getByRole("region", { name: "Edges" });
    expect(await edges.innerText()).toContain("2024-03-31 23:00:00Z");
    const field = opened.page.getByLabel("Window", { exact: true });
    await field.fill("2024-03-31");
    await opened.page.getByText("On 31 March 2024, Europe/London.").waitFor();
    await opened.page.getByText("31 March 2024 has 23 hours").waitFor();
    expect(new URL(opened.page.url()).searchParams.get("window")).toBe("2024-03-31");
  });

  test("says where a text goes wrong, and draws nothing", async () => {
    await open({ ...ASKED, window: "2024-01/monht" });
    await opened.page.getByText("at 9: “monht” is not a unit; did you mean month?").waitFor();
    expect(await opened.page.getByRole("region", { name: "Edges" }).count()).toBe(0);
    await open({ ...ASKED, window: "today", zone: "Mars/Olympus" });
    await opened.page.getByText("Mars/Olympus").first().waitFor();
    expect(await opened.page.getByRole("alert").count()).toBe(1);
  });

  test("offers windows by name with their dates on any day", async () => {
    await open({ ...ASKED, window: "today" });
    await opened.page.getByText("8–14 May 2024").first().waitFor();
    await opened.page.getByRole("button", { name: "last quarter" }).click();
    await opened.page.getByText("1 January – 31 March 2024, Europe").waitFor();
    await opened.page.getByLabel("As of").fill("2024-11-15T12:00:00Z");
    await opened.page.getByText("1 July – 30 September 2024, Europe").waitFor();
  });

  test("offers what was named in the service beside them", async () => {
    await opened.running.client.declareWindow("season", {
      label: "the dredging season",
      window: "year;BYMONTH=9..11",
    });
    await open({ ...ASKED, window: "today" });
    await opened.page.getByRole("button", { name: "the dredging season", exact: true }).click();
    await opened.page.getByText("1 September – 30 November 2024, Europe").waitFor();
  });
});

describe("on another day, and by another calendar", () => {
  test("moves the clock by buttons and by single keys, end of month and all", async () => {
    await open({ ...ASKED, asOf: "2024-03-31T12:00:00Z", window: "month" });
    await told("1–31 March 2024");
    await opened.page.getByRole("button", { name: "a month earlier" }).click();
    await told("1–29 February 2024");
    // 12:00 in summer time is 13:00 on the wall clock, which stays.
    expect(await opened.page.getByLabel("As of").inputValue()).toBe("2024-02-29T13:00:00Z");
    await opened.page.keyboard.press("j");
    await told("1–31 March 2024");
    await opened.page.keyboard.press("Shift+L");
    await told("1–31 March 2025");
    await opened.page.getByRole("button", { name: "now", exact: true }).click();
    expect(new URL(opened.page.url()).searchParams.has("asOf")).toBe(false);
  });

  test("takes a day in the zone for the instant of the request, and refuses one that moves", async () => {
    await open({ ...ASKED, asOf: "2024-02-29", window: "now" });
    await opened.page.getByText("29 February 2024", { exact: false }).first().waitFor();
    await opened.page.getByLabel("As of").fill("today");
    await opened.page.getByText("an instant such as 2026-11-25T09:00:00Z, or a day").waitFor();
  });

  test("keeps the calendar and the zone of a listing, its days off included", async () => {
    const { client } = opened.running;
    const day = (date: string, name: string) =>
      `BEGIN:VEVENT\r\nUID:${name}\r\nDTSTART;VALUE=DATE:${date}\r\nSUMMARY:${name}\r\nEND:VEVENT\r\n`;
    await client.importHolidays(
      "offices",
      `BEGIN:VCALENDAR\r\nVERSION:2.0\r\n${day("20240514", "Stocktaking")}END:VCALENDAR\r\n`,
    );
    await client.declareListing("works-fiscal", {
      title: "Works of a fiscal year",
      source: "works",
      zone: "Europe/Paris",
      mainDate: "raised",
      parameters: [{ name: "from", type: "date", column: "raised", comparison: "from" }],
      calendar: { fiscalYearStart: "04-06", holidayLists: ["offices"] },
    });
    await open({ asOf: ASKED.asOf, window: "workday-1" });
    await told("On 14 May 2024");
    await opened.page.getByLabel("Calendar").selectOption("works-fiscal");
    await told("On 13 May 2024, Europe/Paris");
    await opened.page.getByLabel("Window", { exact: true }).fill("fiscalyear");
    await told("6 April 2024 – 5 April 2025");
    // The listing's own page reports what is typed by the same calendar.
    await opened.page.goto(`${opened.url}/listings/works-fiscal?from=fiscalyear&asOf=2024-05-15`);
    await opened.page.getByRole("button", { name: /^raised from 6 April 2024/ }).click();
    await opened.page.getByText("6 April 2024").nth(1).waitFor();
  });
});

describe("a year of a window", () => {
  test("is requested on every day, its bounds listed, gaps and all", async () => {
    await open({ ...ASKED, window: "month-1" }, "#year");
    await opened.page
      .getByText(
        "366 days, each at noon; the bounds are those of the day before on 354, follow on 11, overlap on 0, leave a gap on 0; 0 empty.",
      )
      .waitFor();
    await opened.page.getByText("The 12 different bounds").click();
    const bounds = opened.page.getByRole("region", { name: "Bounds" });
    expect(await bounds.getByRole("row").nth(3).innerText()).toMatch(
      /2024-03-01 to 2024-03-31\s+2024-02-01\s+2024-03-01/,
    );
    // The 31st of months that have none leaves days of requests empty.
    await opened.page.getByLabel("Window", { exact: true }).fill("month.31");
    await opened.page.getByText("; 149 empty.").waitFor();
    await opened.page.getByRole("button", { name: "2025" }).click();
    await opened.page.getByText("365 days, each at noon").waitFor();
  });

  test("asks on the day that is pressed in the picture, or moved to by keys", async () => {
    await open({ ...ASKED, window: "today" }, "#year");
    const picture = opened.page.getByRole("slider", { name: "As-of day" });
    const box = await picture.boundingBox();
    await picture.click({ position: { x: (box?.width ?? 0) - 1, y: 50 } });
    await told("On 31 December 2024, Europe/London.");
    await picture.press("ArrowLeft");
    await told("On 30 December 2024, Europe/London.");
    expect(await picture.getAttribute("aria-valuetext")).toBe("2024-12-30");
  });
});

describe("what there is beside it", () => {
  test("reports every form of the notation with examples of today, which can be tried", async () => {
    await open({ ...ASKED, window: "today" }, "#notation");
    await opened.page.getByText("1 April – 15 May 2024").count();
    await opened.page.getByText("dates on or after the given one").waitFor();
    await opened.page.getByText("from 16 May 2024").waitFor();
    await opened.page.getByRole("button", { name: "quarter+2", exact: true }).click();
    await told("1 October – 31 December 2024");
  });

  test("reports the periods before a window", async () => {
    await open({ ...ASKED, window: "2024-03" });
    const before = opened.page.getByRole("region", { name: "The period before" });
    expect(await before.innerText()).toContain("1–29 February 2024");
    expect(await before.innerText()).toContain("1–31 March 2023");
  });

  test("gives a window a name for everybody, and ends it", async () => {
    await open({ ...ASKED, window: "year;BYMONTH=4..6" });
    await opened.page.getByLabel("Label").fill("the spring inspection");
    await opened.page.keyboard.press("Enter");
    await opened.page.getByRole("button", { name: "the spring inspection", exact: true }).waitFor();
    const named = await opened.running.client.namedWindows();
    expect(named.find(({ name }) => name === "spring-inspection")?.window).toBe(
      "year;BYMONTH=4..6",
    );
    await opened.page.getByLabel("Find a name").fill("spring");
    expect(await opened.page.getByRole("button", { name: "last week", exact: true }).count()).toBe(
      0,
    );
    await opened.page.getByRole("button", { name: "Delete the spring inspection" }).click();
    await opened.page.getByText("No window matches.").waitFor();
    expect((await opened.running.client.namedWindows()).map(({ name }) => name)).not.toContain(
      "spring-inspection",
    );
  });

  test("shows the ladders with their dates on the as-of day", async () => {
    await opened.running.client.declareLadder("ages", {
      label: "how old it is",
      zone: "Europe/London",
      rungs: [
        { name: "old", label: "before this month", window: "../month-1" },
        { name: "new", label: "this month and later", window: "month/.." },
      ],
    });
    await open({ ...ASKED, window: "today" });
    const ladders = opened.page.getByRole("region", { name: "Ladders" });
    await ladders.getByText("until 30 April 2024").waitFor();
    await ladders.getByRole("button", { name: "this month and later" }).click();
    await told("From 1 May 2024, Europe/London.");
  });
});

describe("phrases in the browser", () => {
  test("mean what the table says, at every clock and in every zone", async () => {
    await opened.page.route("**/core/**", (route) =>
      route.fulfill({
        path: join("packages/core/dist", new URL(route.request().url()).pathname.slice(6)),
        contentType: "text/javascript",
      }),
    );
    const read = await opened.page.evaluate(
      async ({ place, cases }) => {
        const { readPhrase, findZone, epochMs } = (await import(place)) as typeof core;
        return cases.map(({ phrase, locale, asOf, zone }) => {
          const found = findZone(zone);
          if (!found.ok) throw new Error(zone);
          const context = { asOf: epochMs(Date.parse(asOf)), zone: found.value, locale };
          const meant = readPhrase(phrase, context);
          return meant.ok ? meant.value.join(" or ") : String(meant.faults[0]?.code);
        });
      },
      { place: "/core/internal.js", cases: PHRASE_CASES },
    );
    expect(read).toEqual(PHRASE_CASES.map(({ refused, means }) => refused ?? means.join(" or ")));
  });
});
