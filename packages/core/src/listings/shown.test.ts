import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { UTC, epochMs, findZone, type Zone } from "../calendar/index.js";
import type { Catalogue, Column } from "../filters/index.js";
import {
  DERIVED_PARTS,
  derivedMovement,
  derivedValue,
  formatter,
  addedColumns,
  neededFor,
  type ColumnFormat,
  type DerivedColumn,
  type ListingDeclaration,
  type RecordValue,
} from "./index.js";

const DAY_MS = 86_400_000;
const COLUMNS: Catalogue = new Map<string, Column>([
  ["raised", { name: "raised", type: "date", kind: "date" }],
  ["starts", { name: "starts", type: "date", kind: "local" }],
  ["passed", { name: "passed", type: "date", kind: "instant" }],
  ["lock", { name: "lock", type: "text" }],
]);

function zone(name: string): Zone {
  const found = findZone(name);
  if (!found.ok) throw new Error(`there is no zone ${name}`);
  return found.value;
}
const LONDON = zone("Europe/London");

function derive(
  derived: DerivedColumn,
  record: Readonly<Record<string, RecordValue>>,
  asOf = 0,
  where = LONDON,
) {
  return derivedValue(derived, record, { columns: COLUMNS, asOf: epochMs(asOf), zone: where });
}

describe("days between dates", () => {
  const names = (from: string, to: string): DerivedColumn => ({ kind: "days", from, to });

  test("are those of the calendar for days and wall-clock times, whatever the time of day", () => {
    const starts = { starts: "2025-02-01T23:00:00", raised: "2025-02-01" };
    expect(derive(names("raised", "now"), starts, Date.UTC(2025, 1, 3, 1))).toBe(2);
    expect(derive(names("starts", "now"), starts, Date.UTC(2025, 1, 2, 1))).toBe(1);
    expect(derive(names("now", "raised"), starts, Date.UTC(2025, 0, 31))).toBe(1);
  });

  test("are of 24 hours for instants, and never less than nothing by a minus alone", () => {
    const passed = { passed: "2025-02-01T23:00:00Z" };
    expect(derive(names("passed", "now"), passed, Date.UTC(2025, 1, 2, 22, 59))).toBe(0);
    expect(derive(names("passed", "now"), passed, Date.UTC(2025, 1, 2, 23))).toBe(1);
    expect(Object.is(derive(names("passed", "now"), passed, Date.UTC(2025, 1, 1, 22)), 0)).toBe(
      true,
    );
  });

  test("begin with the day of the zone", () => {
    const asOf = Date.UTC(2025, 1, 2, 23, 30);
    const raised = { raised: "2025-02-02" };
    expect(derive(names("raised", "now"), raised, asOf)).toBe(0);
    expect(derive(names("raised", "now"), raised, asOf, zone("Asia/Kolkata"))).toBe(1);
  });

  test("are blank where a date is, and turn their sign with their ends", () => {
    expect(
      derive(names("raised", "starts"), { raised: null, starts: "2025-02-01T00:00:00" }),
    ).toBeNull();
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 40_000 }),
        fc.integer({ min: 0, max: 40_000 }),
        (a, b) => {
          const day = (number: number) => new Date(number * DAY_MS).toISOString().slice(0, 10);
          const record = { raised: day(a) };
          const forth = derive(names("raised", "now"), record, b * DAY_MS, UTC);
          const back = derive(names("now", "raised"), record, b * DAY_MS, UTC);
          expect([forth, (back ?? 0) + (forth ?? 0)]).toEqual([b - a, 0]);
        },
      ),
    );
  });
});

describe("parts of a date", () => {
  test("are those that the runtime's own calendar has in the zone", () => {
    const format = new Intl.DateTimeFormat("en-GB", {
      timeZone: "Europe/London",
      year: "numeric",
      month: "numeric",
      day: "numeric",
      hour: "numeric",
      weekday: "long",
      hourCycle: "h23",
    });
    const days = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];
    fc.assert(
      fc.property(fc.integer({ min: Date.UTC(1973, 0), max: Date.UTC(2037, 0) }), (ms) => {
        const parts = Object.fromEntries(
          format.formatToParts(ms).map(({ type, value }) => [type, value]),
        );
        const record = { passed: new Date(ms).toISOString() };
        const found = Object.fromEntries(
          DERIVED_PARTS.map((part) => [
            part,
            derive({ kind: "part", part, column: "passed" }, record),
          ]),
        );
        expect(found).toEqual({
          year: Number(parts.year),
          quarter: Math.ceil(Number(parts.month) / 3),
          month: Number(parts.month),
          day: Number(parts.day),
          weekday: days.indexOf(parts.weekday ?? "") + 1,
          hour: Number(parts.hour),
        });
      }),
    );
  });
});

test("columns that are made move with the clock by the day, by instants always, or not at all", () => {
  const of = (derived: DerivedColumn) => derivedMovement({ derived }, COLUMNS);
  expect(of({ kind: "days", from: "raised", to: "now" })).toBe("steps");
  expect(of({ kind: "days", from: "now", to: "passed" })).toBe("always");
  expect(of({ kind: "days", from: "starts", to: "starts" })).toBe("never");
  expect(of({ kind: "part", part: "year", column: "raised" })).toBe("never");
});

test("columns that are made need those of which they are", () => {
  const listing = {
    derived: { age: { kind: "days", from: "raised", to: "now" } },
    relations: { of: { source: "locks", by: "lock", columns: ["name", "gone"] } },
  } as unknown as ListingDeclaration;
  const columns: Catalogue = new Map([["name", { name: "name", type: "text" }]]);
  const derivedColumns = addedColumns(
    listing,
    COLUMNS,
    new Map([["locks", { columns, isKeyed: true }]]),
  );
  expect([...derivedColumns.keys()]).toEqual(["age", "of.name"]);
  expect(neededFor(["raised", "age", "of.name"], derivedColumns)).toEqual(["raised", "lock"]);
});

describe("formats", () => {
  const show = (format: ColumnFormat, column: Column, value: Exclude<RecordValue, null>) =>
    formatter(format, column, LONDON)(value);
  const day: Column = { name: "d", type: "date", kind: "date" };
  const cost: Column = { name: "c", type: "decimal" };

  test.each<[ColumnFormat, Column, Exclude<RecordValue, null>, string]>([
    [{ pattern: "d MMMM yyyy" }, day, "2025-02-01", "1 February 2025"],
    [{ pattern: "d MMMM yyyy", locale: "de" }, day, "2025-02-01", "1 Februar 2025"],
    [{ pattern: "EEE d MMM" }, day, "2025-02-01", "Sat 1 Feb"],
    [{ pattern: "yy" }, day, "2025-02-01", "25"],
    [
      { pattern: "HH:mm" },
      { name: "p", type: "date", kind: "instant" },
      "2025-07-01T12:00:00Z",
      "13:00",
    ],
    [
      { pattern: "HH:mm" },
      { name: "l", type: "date", kind: "local" },
      "2025-07-01T12:05:00",
      "12:05",
    ],
    [{ pattern: "yyyy" }, day, "no date", "no date"],
    [{ decimals: 2 }, cost, 1234.5, "1,234.50"],
    [{ decimals: 2, locale: "de" }, cost, 1234.5, "1.234,50"],
    [
      { decimals: 2, prefix: "£" },
      cost,
      "12345678901234567890.125",
      "£12,345,678,901,234,567,890.13",
    ],
    [{ suffix: " m" }, cost, 0.5, "0.5 m"],
    [{ yes: "open", no: "shut" }, { name: "b", type: "boolean" }, false, "shut"],
    [{ prefix: "No. " }, { name: "t", type: "text" }, "7", "No. 7"],
  ])("%j of %j shows %s as %s", (format, column, value, shown) => {
    expect(show(format, column, value)).toBe(shown);
  });
});
