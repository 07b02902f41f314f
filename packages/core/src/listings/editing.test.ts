import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { MS_PER_DAY, UTC, epochMs, findZone, isoDay } from "../calendar/index.js";
import type { Catalogue } from "../filters/index.js";
import { compileReading, DATE_ENCODINGS, type Reading } from "../reading/index.js";
import { ISO_CALENDAR } from "../windows/index.js";
import type { ListingDeclaration } from "./declaration.js";
import { readAction, readEdit, type EditContext } from "./editing.js";

const COLUMNS: Catalogue = new Map([
  ["day", { name: "day", type: "date", kind: "date" }],
  ["wall", { name: "wall", type: "date", kind: "local" }],
  ["moment", { name: "moment", type: "date", kind: "instant" }],
  ["count", { name: "count", type: "integer" }],
  ["cost", { name: "cost", type: "integer" }],
  ["depth", { name: "depth", type: "decimal" }],
  ["open", { name: "open", type: "boolean" }],
  ["note", { name: "note", type: "text" }],
]);
const LISTING: ListingDeclaration = {
  name: "works",
  title: "Works",
  source: "works",
  zone: "Europe/London",
  mainDate: "day",
  parameters: [],
  columns: [],
  order: { allowed: [], default: "day" },
  page: { size: 50, max: 50 },
  reversed: "swap",
  units: { cost: { scale: 2 } },
  editable: [...COLUMNS.keys()],
  actions: { finish: { set: { note: "caller()", day: "today", moment: "now" } } },
};

function context(readings: Readonly<Record<string, Reading>> = {}): EditContext {
  const zone = findZone("Europe/London");
  return {
    columns: COLUMNS,
    readings: new Map(Object.entries(readings)),
    window: {
      asOf: epochMs(Date.UTC(2025, 6, 1, 23, 30, 15, 250)),
      zone: zone.ok ? zone.value : UTC,
      calendar: ISO_CALENDAR,
    },
    caller: "Ann",
  };
}

/** What a value of a column is stored as, or the codes of what is wrong with it. */
function stored(column: string, value: string | number | boolean | null, reading?: Reading) {
  const read = readEdit(
    LISTING,
    { [column]: value },
    context(reading === undefined ? {} : { [column]: reading }),
  );
  return read.ok ? read.value.get(column) : read.faults.map(({ code }) => code).join(" ");
}

const UK: Reading = { kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"] };

describe("a value of an edit", () => {
  test.each([
    ["day", "2025-03-05", UK, "05/03/2025"],
    ["day", "2025-W10-3", UK, "05/03/2025"],
    // In London it is the second day of July already.
    ["day", "today", UK, "02/07/2025"],
    ["day", "now", UK, "02/07/2025"],
    ["day", "today+P1M", UK, "02/08/2025"],
    ["day", "2025-03", UK, "edit.value"],
    ["day", "2025-03-05/2025-03-06", UK, "window.oneDate"],
    ["day", "05/03/2025", UK, "date.ambiguous"],
    ["day", "2025-03-05T10:00", UK, "date.timeRefused"],
    ["day", "", UK, "edit.value"],
    ["day", 45_000, UK, "edit.value"],
    ["wall", "2025-03-05T09:30", { kind: "local", encoding: "text" }, "2025-03-05T09:30:00"],
    ["wall", "2025-03-05", { kind: "local", encoding: "text" }, "edit.value"],
    // A pattern without seconds holds the present moment to the minute, and no others but such.
    [
      "wall",
      "now",
      { kind: "local", encoding: "text", patterns: ["HH:mm d MMM yyyy"] },
      "00:30 2 Jul 2025",
    ],
    [
      "wall",
      "2025-03-05T09:30:10",
      { kind: "local", encoding: "text", patterns: ["HH:mm d MMM yyyy"] },
      "edit.value",
    ],
    [
      "moment",
      "2025-07-05T09:30",
      { kind: "instant", encoding: "epoch-s" },
      String(Date.UTC(2025, 6, 5, 8, 30) / 1_000),
    ],
    [
      "moment",
      "2025-07-05T09:30Z",
      { kind: "instant", encoding: "epoch-s" },
      String(Date.UTC(2025, 6, 5, 9, 30) / 1_000),
    ],
    ["count", 12, undefined, "12"],
    ["count", "12", undefined, "12"],
    ["count", 12.5, undefined, "number.scale"],
    ["count", "a dozen", undefined, "number.form"],
    ["count", 1e21, undefined, "number.form"],
    ["cost", "19.99", undefined, "1999"],
    ["cost", 19.999, undefined, "number.scale"],
    ["depth", "1.25", undefined, "1.25"],
    ["open", true, undefined, "true"],
    ["open", "no", undefined, "false"],
    ["open", 1, undefined, "edit.value"],
    ["note", "caller()", undefined, "caller()"],
    ["note", 5, undefined, "edit.value"],
    ["note", null, undefined, null],
    ["other", "x", undefined, "edit.column"],
  ] as const)("of %s: %s under %j is %s", (column, value, reading, expected) => {
    expect(stored(column, value, reading)).toBe(expected);
  });

  test("of a date is stored as every encoding reads it back, on any day", () => {
    const day = fc.integer({ min: -700_000, max: 2_900_000 });
    const encoding = fc.constantFrom(
      ...DATE_ENCODINGS.filter((each) => !each.startsWith("serial")),
    );
    fc.assert(
      fc.property(day, encoding, (days, each) => {
        const text = isoDay(days);
        const reading: Reading = { kind: "date", encoding: each };
        const found = stored("day", text, reading);
        const compiled = compileReading(reading);
        if (!compiled.ok || typeof found !== "string") throw new Error(String(found));
        expect(compiled.value.read(found)).toMatchObject({ state: "dated", ms: days * MS_PER_DAY });
      }),
    );
  });

  test("is refused with all others that are wrong, each at its place", () => {
    const read = readEdit(LISTING, { day: "2025-02-30", count: "x", note: "fine" }, context());
    expect(read.ok ? [] : read.faults.map(({ path, code }) => `${path} ${code}`)).toEqual([
      "values.day date.impossible",
      "values.count number.form",
    ]);
  });
});

test("an action sets the name of the caller, the day and the moment at which it is made", () => {
  const moment = { kind: "instant", encoding: "epoch-ms" } as const;
  const read = readAction(LISTING, "finish", context({ day: UK, moment }));
  expect(read.ok && [...read.value]).toEqual([
    ["note", "Ann"],
    ["day", "02/07/2025"],
    ["moment", String(Date.UTC(2025, 6, 1, 23, 30, 15, 250))],
  ]);
  const unknown = readAction(LISTING, "finnish", context());
  expect(unknown.ok ? "" : unknown.faults[0]?.code).toBe("name.unknown");
});
