import { describe, expect, test } from "@jest/globals";
import ICAL from "ical.js";
import { Problem } from "../src/http/index.js";
import { readHolidays } from "../src/calendars/read.js";

function calendar(...events: readonly string[]): string {
  const lines = events.map((event) => `BEGIN:VEVENT\n${event}\nEND:VEVENT`);
  return ["BEGIN:VCALENDAR", ...lines, "END:VCALENDAR"].join("\n").replaceAll("\n", "\r\n");
}

async function days(...events: readonly string[]): Promise<readonly string[]> {
  return (await readHolidays(calendar(...events))).days.map(({ day }) => day);
}

const from = (start: string, rule: string) => `DTSTART;VALUE=DATE:${start}\nRRULE:${rule}`;

describe("days off that come round", () => {
  test.each([
    ["20200229", "FREQ=YEARLY;UNTIL=20281231", ["2020-02-29", "2024-02-29", "2028-02-29"]],
    ["20200315", "FREQ=YEARLY;INTERVAL=2;COUNT=3", ["2020-03-15", "2022-03-15", "2024-03-15"]],
    ["20240131", "FREQ=MONTHLY;COUNT=3", ["2024-01-31", "2024-03-31", "2024-05-31"]],
    ["20240502", "FREQ=WEEKLY;INTERVAL=2;COUNT=3", ["2024-05-02", "2024-05-16", "2024-05-30"]],
    ["20240506", "FREQ=YEARLY;BYMONTH=5;BYDAY=1MO;COUNT=2", ["2024-05-06", "2025-05-05"]],
    ["20240530", "FREQ=DAILY;INTERVAL=2;COUNT=2", ["2024-05-30", "2024-06-01"]],
    ["20240101", "FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30", ["2024-01-01"]],
  ])("from %s by %s", async (start, rule, expected) => {
    expect(await days(from(start, rule))).toEqual(expected);
  });

  test.each([
    ["20240101", "FREQ=YEARLY;COUNT=40"],
    ["20240131", "FREQ=MONTHLY;BYMONTHDAY=-1;COUNT=40"],
    ["20240103", "FREQ=WEEKLY;BYDAY=MO,WE;INTERVAL=3;COUNT=40"],
    ["20240107", "FREQ=WEEKLY;BYDAY=SU,MO;INTERVAL=2;WKST=SU;COUNT=40"],
    ["20240126", "FREQ=MONTHLY;BYDAY=-1FR;COUNT=40"],
    ["20240401", "FREQ=YEARLY;BYMONTH=4,10;BYMONTHDAY=1;COUNT=40"],
    ["20240301", "FREQ=DAILY;INTERVAL=17;COUNT=40"],
  ])(
    "are those of the library's own steps, where these have an end: from %s by %s",
    async (start, rule) => {
      const component = new ICAL.Component(ICAL.parse(calendar(from(start, rule))) as unknown[]);
      const iterator = new ICAL.Event(
        component.getFirstSubcomponent("vevent") ?? undefined,
      ).iterator();
      const steps = Array.from({ length: 40 }, () => String(iterator.next()));
      expect(await days(from(start, rule))).toEqual(steps);
    },
  );

  test("omit what is removed, and have what replaces it", async () => {
    const yearly = `UID:a\n${from("20240315", "FREQ=YEARLY;COUNT=4")}\nEXDATE;VALUE=DATE:20250315`;
    const moved = "UID:a\nRECURRENCE-ID;VALUE=DATE:20260315\nDTSTART;VALUE=DATE:20260316";
    expect(await days(yearly, moved)).toEqual(["2024-03-15", "2026-03-16", "2027-03-15"]);
    const more = `${from("20240315", "FREQ=YEARLY;COUNT=1")}\nRDATE;VALUE=DATE:20240401,20240402`;
    expect(await days(more)).toEqual(["2024-03-15", "2024-04-01", "2024-04-02"]);
  });

  test.each([
    ["FREQ=SECONDLY", "SECONDLY"],
    ["FREQ=YEARLY;BYDAY=20MO", "name the month"],
    ["FREQ=MONTHLY;BYDAY=MO,TU;BYSETPOS=-1", "BYSETPOS"],
    ["FREQ=DAILY", "more than 10000 days"],
  ])("%s is refused in words", async (rule, reason) => {
    const read = () => readHolidays(calendar(`SUMMARY:x\n${from("00010101", rule)}`));
    await expect(read()).rejects.toThrow(Problem);
    await expect(read()).rejects.toThrow(reason);
  });

  test("a rule of days that never are has none, and ends", async () => {
    for (const rule of ["FREQ=DAILY;BYMONTH=2;BYMONTHDAY=30", "FREQ=WEEKLY;INTERVAL=999999999"]) {
      expect(await days(from("20240101", rule))).toEqual(["2024-01-01"]);
    }
    const many = Array.from({ length: 51 }, () => from("20240101", "FREQ=YEARLY"));
    await expect(days(...many)).rejects.toThrow("more than 50 events");
  });
});
