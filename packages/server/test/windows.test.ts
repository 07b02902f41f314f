import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";

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
    const calendar = { finYearStart: "04-06", holidays: ["2024-05-14"] };
    const sent = { zone: LONDON, calendar };
    const year = await running.client.resolveWindow({ ...sent, window: "finyear" });
    expect(year.intervals[0]?.startLocal).toBe("2024-04-06T00:00:00");
    const day = await running.client.resolveWindow({ ...sent, window: "workday-1" });
    expect(day.intervals[0]?.startLocal).toBe("2024-05-13T00:00:00");
    const bad = { window: "week", zone: "Europe/Londn", calendar: { weekStart: "XX" } };
    expect(
      (await refusal(running.client.resolveWindow(bad)))?.faults.map(({ path }) => path),
    ).toEqual(["zone", "calendar.weekStart"]);
  });

  test.each([
    ["monht", "window.word", "month"],
    ["2024-02-30", "date.impossible", undefined],
    ["month.32", "window.number", undefined],
    ["P9999999Y/now", "window.tooFar", undefined],
    ["'; DROP TABLE sources; --", "window.word", undefined],
  ])("%s is a 422 that says what is accepted", async (window, code, nearest) => {
    const found = await refusal(running.client.resolveWindow({ window, zone: LONDON }));
    expect(found).toMatchObject({ status: 422, faults: [{ code, path: "window" }] });
    expect(found?.faults[0]?.nearest).toBe(nearest);
  });

  test("refuses an instant without an offset", async () => {
    const sent = { window: "today", zone: LONDON, asOf: "2024-05-15T13:30:05" };
    expect((await refusal(running.client.resolveWindow(sent)))?.status).toBe(422);
  });
});
