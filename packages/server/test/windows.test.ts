import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";
import { SMALL, SMALL_CSV } from "../../../test/works.js";

/** 15 May 2024, 14:30:05 in London. */
const NOW = Date.UTC(2024, 4, 15, 13, 30, 5);

let running: TestService;

beforeAll(async () => {
  running = await startTestService({ now: () => NOW });
});
afterAll(() => running.end());

const LONDON = "Europe/London";

describe("POST /v1/windows/resolve", () => {
  test("answers with both faces of every edge, the sentence and the next change", async () => {
    const answer = await running.client.resolveWindow({
      window: " 2024-03-31 ",
      zone: LONDON,
      asOf: "2024-05-15T15:30:05+02:00",
    });
    expect(answer).toEqual({
      window: " 2024-03-31 ",
      canonical: "2024-03-31",
      sentence: "on 31 March 2024, Europe/London",
      zone: LONDON,
      asOf: "2024-05-15T13:30:05Z",
      intervals: [
        {
          start: "2024-03-31T00:00:00Z",
          end: "2024-03-31T23:00:00Z",
          startLocal: "2024-03-31T00:00:00",
          endLocal: "2024-04-01T00:00:00",
        },
      ],
      nextChange: null,
      notices: [expect.objectContaining({ code: "value.trimmed" })],
    });
  });

  test("reads phrases only where the request says so, and lists the windows that one can mean", async () => {
    const ask = (window: string, phrases?: boolean) =>
      running.client.resolveWindow({
        window,
        zone: LONDON,
        ...(phrases === undefined ? {} : { phrases }),
      });
    expect(await ask("since Monday", true)).toMatchObject({
      window: "since Monday",
      canonical: "2024-05-13/..",
      intervals: [{ startLocal: "2024-05-13T00:00:00", end: null }],
    });
    expect(await refusal(ask("since Monday"))).toMatchObject({ status: 422 });
    expect(await refusal(ask("since Monday", false))).toMatchObject({ status: 422 });
    expect(await refusal(ask("3/4/2025", true))).toMatchObject({
      status: 422,
      faults: [{ path: "window", code: "phrase.ambiguous", nearest: ["2025-04-03", "2025-03-04"] }],
    });
    expect(await refusal(ask("constructor", true))).toMatchObject({
      status: 422,
      faults: [{ code: "window.word" }],
    });
    expect(await refusal(ask("constructor"))).toMatchObject({ status: 422 });
  });

  test("reads phrases of other languages where the request names one", async () => {
    const ask = (window: string, locale?: string) =>
      running.client.resolveWindow({
        window,
        zone: LONDON,
        phrases: true,
        ...(locale === undefined ? {} : { locale }),
      });
    expect(await ask("seit Montag", "de")).toMatchObject({ canonical: "2024-05-13/.." });
    expect(await ask("since Monday", "de")).toMatchObject({ canonical: "2024-05-13/.." });
    expect(await refusal(ask("seit Montag"))).toMatchObject({
      status: 422,
      faults: [{ path: "window", code: "phrase.unknown" }],
    });
    expect(await refusal(ask("sedan måndag", "sv"))).toMatchObject({
      status: 422,
      faults: [
        { path: "locale", code: "phrase.locale", accepted: "en, de, fr, es, it, nl, pl, pt" },
      ],
    });
  });

  test("asks the service's own clock where no instant is sent", async () => {
    const { asOf, intervals, nextChange } = await running.client.resolveWindow({
      window: "month/now",
      zone: LONDON,
    });
    expect(asOf).toBe("2024-05-15T13:30:05Z");
    expect(intervals[0]?.end).toBe("2024-05-15T13:30:05Z");
    expect(nextChange).toBe(asOf);
  });

  test("keeps what recurs without end as its parts, and says why a window is empty", async () => {
    const open = await running.client.resolveWindow({
      window: "2024/..;BYMONTHDAY=-1",
      zone: LONDON,
    });
    expect(open).toMatchObject({
      intervals: [],
      recurring: [{ start: "2024-01-01T00:00:00Z", end: null, parts: ["BYMONTHDAY=-1"] }],
    });
    const skipped = await running.client.resolveWindow({
      window: "2011-12-30",
      zone: "Pacific/Apia",
    });
    expect(skipped).toMatchObject({ intervals: [], notices: [{ code: "window.skippedDay" }] });
    const long = await running.client.resolveWindow({
      window: "1900/2023;BYDAY=MO,WE,FR",
      zone: "UTC",
    });
    expect(long.intervals).toHaveLength(10_000);
    expect(long.truncated).toBe(true);
  });

  test("goes by the calendar that is sent, and refuses one that cannot be", async () => {
    const calendar = { fiscalYearStart: "04-06", holidays: ["2024-05-14"] };
    const sent = { zone: LONDON, calendar };
    const year = await running.client.resolveWindow({ ...sent, window: "fiscalyear" });
    expect(year.intervals[0]?.startLocal).toBe("2024-04-06T00:00:00");
    const day = await running.client.resolveWindow({ ...sent, window: "workday-1" });
    expect(day.intervals[0]?.startLocal).toBe("2024-05-13T00:00:00");
    const bad = { window: "week", zone: "Europe/Londn", calendar: { weekStart: "XX" } };
    expect(
      (await refusal(running.client.resolveWindow(bad)))?.faults.map(({ path }) => path),
    ).toEqual(["zone", "calendar.weekStart"]);
  });

  test.each([
    ["monht", "window.word", ["month"]],
    ["2024-02-30", "date.impossible", undefined],
    ["month.32", "window.number", undefined],
    ["P9999999Y/now", "window.tooFar", undefined],
    ["'; DROP TABLE sources; --", "window.word", undefined],
  ])("%s is a 422 that says what is accepted", async (window, code, nearest) => {
    const found = await refusal(running.client.resolveWindow({ window, zone: LONDON }));
    expect(found).toMatchObject({ status: 422, faults: [{ code, path: "window" }] });
    expect(found?.faults[0]?.nearest).toEqual(nearest);
  });

  test("refuses an instant without an offset", async () => {
    const sent = { window: "today", zone: LONDON, asOf: "2024-05-15T13:30:05" };
    expect((await refusal(running.client.resolveWindow(sent)))?.status).toBe(422);
  });
});

/** Made-up days off of the trust. */
const DAYS_OFF = `BEGIN:VCALENDAR
VERSION:2.0
PRODID:-//Brindle Vale//Days off//EN
BEGIN:VEVENT
UID:1
DTSTART;VALUE=DATE:20240513
DTEND;VALUE=DATE:20240515
SUMMARY:Lantern days
END:VEVENT
BEGIN:VEVENT
UID:2
DTSTART;VALUE=DATE:20200315
RRULE:FREQ=YEARLY
SUMMARY:Founders' day
END:VEVENT
BEGIN:VEVENT
UID:3
DTSTART:20240510T180000Z
SUMMARY:An evening
END:VEVENT
END:VCALENDAR
`.replaceAll("\n", "\r\n");

describe("days off", () => {
  test("are the whole days of an iCalendar file, those that recur too; what is no day is reported", async () => {
    const imported = await running.client.importHolidays("trust", DAYS_OFF);
    expect(imported).toMatchObject({ name: "trust", first: "2020-03-15", skipped: ["An evening"] });
    expect(imported.days).toBe(2 + 180);
    const { holidays } = await running.client.holidayList("trust");
    const in2024 = holidays.filter(({ day }) => day.startsWith("2024"));
    expect(in2024).toEqual([
      { day: "2024-03-15", label: "Founders' day" },
      { day: "2024-05-13", label: "Lantern days" },
      { day: "2024-05-14", label: "Lantern days" },
    ]);
  });

  test("are no working days where a window or a listing names their list", async () => {
    const sent = { window: "workday-1", zone: LONDON };
    const day = async (calendar: object) =>
      (await running.client.resolveWindow({ ...sent, calendar })).intervals[0]?.startLocal;
    expect(await day({ holidayLists: ["trust"] })).toBe("2024-05-10T00:00:00");
    expect(await day({ holidayLists: ["trust"], holidays: ["2024-05-10"] })).toBe(
      "2024-05-09T00:00:00",
    );
    expect(await day({})).toBe("2024-05-14T00:00:00");

    await running.client.createSource(SMALL);
    await running.client.importFile("works", SMALL_CSV);
    await running.client.declareListing("works", {
      source: "works",
      zone: LONDON,
      mainDate: "raised",
      calendar: { holidayLists: ["trust"] },
      parameters: [{ name: "since", type: "date", column: "raised", comparison: "from" }],
    });
    const since = async () =>
      (await running.client.records("works", { since: "workday-1" })).meta.windows[0]?.startLocal;
    expect(await since()).toBe("2024-05-10T00:00:00");
    // A list that is taken again counts at once.
    await running.client.importHolidays("trust", DAYS_OFF.replaceAll("20240513", "20240514"));
    expect(await since()).toBe("2024-05-13T00:00:00");
  });

  test("are refused where the file is none, and a list that is used stays", async () => {
    for (const file of [
      "",
      "no calendar",
      "BEGIN:VCALENDAR\r\nBEGIN:VEVENT",
      "x".repeat(100_000),
    ]) {
      expect((await refusal(running.client.importHolidays("bad", file)))?.status).toBe(422);
    }
    const endless = DAYS_OFF.replace("FREQ=YEARLY", "FREQ=DAILY");
    expect((await refusal(running.client.importHolidays("bad", endless)))?.detail).toContain(
      "10000",
    );
    expect(await refusal(running.client.deleteHolidays("trust"))).toMatchObject({ status: 409 });
    expect(await refusal(running.client.holidayList("turst"))).toMatchObject({
      status: 404,
      faults: [{ nearest: ["trust"] }],
    });
    const unknown = { window: "workday", zone: LONDON, calendar: { holidayLists: ["turst"] } };
    expect((await refusal(running.client.resolveWindow(unknown)))?.status).toBe(404);
    expect((await running.client.holidayLists()).map(({ name }) => name)).toEqual(["trust"]);
  });
});

describe("windows by name", () => {
  test("are listed with their dates on any day, and others can be declared and ended", async () => {
    const requested = { asOf: "2025-02-10T09:00:00Z", zone: LONDON };
    const season = { label: "the dredging season", window: "year;BYMONTH=9..11" };
    await running.client.declareWindow("dredging", season);
    const listed = await running.client.namedWindows(requested);
    const dates = new Map(listed.map(({ name, intervals }) => [name, intervals[0]]));
    expect(dates.get("seven-days-before-today")).toMatchObject({
      startLocal: "2025-02-03T00:00:00",
      endLocal: "2025-02-10T00:00:00",
    });
    expect(dates.get("seven-days-with-today")).toMatchObject({
      startLocal: "2025-02-04T00:00:00",
      endLocal: "2025-02-11T00:00:00",
    });
    expect(dates.get("dredging")).toMatchObject({
      startLocal: "2025-09-01T00:00:00",
      endLocal: "2025-12-01T00:00:00",
    });
    await running.client.deleteWindow("dredging");
    expect((await running.client.namedWindows()).map(({ name }) => name)).not.toContain("dredging");
  });

  test("a name that is taken or a window that cannot be is refused", async () => {
    const declare = (name: string, window: string) =>
      refusal(running.client.declareWindow(name, { label: "x", window }));
    expect((await declare("today", "today"))?.status).toBe(409);
    expect((await declare("mine", "monht"))?.faults[0]?.nearest).toEqual(["month"]);
    expect((await declare("mine", "last month"))?.faults[0]?.nearest).toEqual(["month-1"]);
    expect((await declare("9", "month"))?.faults[0]?.code).toBe("name.form");
    expect((await refusal(running.client.deleteWindow("today")))?.status).toBe(404);
  });

  test("a ladder is taken only where it tiles, and is listed with its dates", async () => {
    const ladder = {
      zone: LONDON,
      rungs: ["overdue", "today", { name: "later", window: "tomorrow/.." }],
    };
    await running.client.declareLadder("due", ladder);
    const [found] = await running.client.ladders({ asOf: "2025-02-10T09:00:00Z" });
    expect(
      found?.rungs.map(({ name, intervals: [interval] }) => [name, interval?.endLocal]),
    ).toEqual([
      ["overdue", "2025-02-10T00:00:00"],
      ["today", "2025-02-11T00:00:00"],
      ["later", null],
    ]);
    const gap = await refusal(
      running.client.declareLadder("gap", { rungs: ["overdue", "coming-seven-days"] }),
    );
    expect(gap?.faults).toMatchObject([
      {
        code: "ladder.untiled",
        message: "on 2024-05-15, there is a gap between “overdue” and “coming-seven-days”",
      },
    ]);
    const unknown = { rungs: ["overdue", "todya"] };
    expect((await refusal(running.client.declareLadder("gap", unknown)))?.faults).toMatchObject([
      { code: "rung.unknown", path: "rungs.1", nearest: ["today"] },
    ]);
    await running.client.deleteLadder("due");
    expect(await running.client.ladders()).toEqual([]);
  });

  test("another start finds lists, names and ladders", async () => {
    await running.client.declareWindow("kept", { label: "kept", window: "month" });
    await running.client.declareLadder("kept", { rungs: ["overdue", "ahead"] });
    const again = await startTestService({ login: running.login });
    expect((await again.client.namedWindows()).map(({ name }) => name)).toContain("kept");
    expect((await again.client.ladders()).map(({ name }) => name)).toEqual(["kept"]);
    expect((await again.client.holidayLists()).map(({ name }) => name)).toEqual(["trust"]);
    await again.end();
  });
});
