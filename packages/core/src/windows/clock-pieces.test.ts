import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import {
  MS_PER_DAY,
  MS_PER_HOUR,
  clockPieces,
  clockYears,
  dayNumber,
  daysInYear,
  epochMs,
  findZone,
  firstInstant,
  instantsFrom,
  leastWall,
  offsetPieces,
  offsetYears,
  utcYearStart,
  wallAt,
  wallMs,
  weekday,
  type OffsetBy,
  type OffsetPiece,
  type Zone,
} from "../calendar/index.js";
import { constantOffsetWall } from "./recurring.js";

function zone(id: string): Zone {
  const found = findZone(id);
  if (!found.ok) throw new Error(`no zone ${id}`);
  return found.value;
}

const ZONES = [
  "UTC",
  "Europe/London",
  "Europe/Dublin",
  "America/Sao_Paulo",
  "America/St_Johns",
  "America/Juneau",
  "America/Havana",
  "Asia/Manila",
  "Pacific/Apia",
  "Pacific/Kwajalein",
  "Australia/Lord_Howe",
  "Africa/Casablanca",
  "Antarctica/Troll",
].map(zone);

const hourOf = (wall: number) => Math.floor(wall / MS_PER_HOUR);

describe("offsets of a zone", () => {
  const offsetIn = (pieces: readonly OffsetPiece[], at: number) =>
    pieces.findLast((piece) => piece.from <= at)?.offset;
  const inYear = (of: Zone, by: OffsetBy, at: number) => {
    const year = new Date(at).getUTCFullYear();
    const kind = offsetYears(of, by).find(
      ({ firstWeekday, isLeap }) =>
        firstWeekday === weekday(dayNumber(year, 1, 1)) && isLeap === (daysInYear(year) === 366),
    );
    return offsetIn(kind?.pieces ?? [], at - utcYearStart(year));
  };

  test("are those of instants, and of the first instant of wall-clock times, around every change", () => {
    let [changes, never, twice] = [0, 0, 0];
    for (const each of ZONES) {
      for (const { from } of offsetPieces(each, "instant").slice(1)) {
        changes++;
        for (const around of [-MS_PER_HOUR, -1, 0, 1, 1_799_999, MS_PER_HOUR - 1, MS_PER_HOUR]) {
          const at = epochMs(from + around);
          expect(offsetIn(offsetPieces(each, "instant"), at)).toBe(each.offsetAt(at));
          for (const offset of [each.offsetAt(at), each.offsetAt(epochMs(at - 2 * MS_PER_HOUR))]) {
            const wall = wallMs(at + offset);
            const first = firstInstant(each, wall);
            const expected = first === null ? null : wall - first;
            expect([each.id, wall, offsetIn(offsetPieces(each, "wall"), wall)]).toEqual([
              each.id,
              wall,
              expected,
            ]);
            if (first === null) never++;
            else if (first !== at) twice++;
          }
        }
      }
    }
    expect(changes).toBeGreaterThan(1_500);
    expect(Math.min(never, twice)).toBeGreaterThan(1_000);
  });

  test("are so in the years of rules alone", () => {
    let never = 0;
    const from = utcYearStart(2100);
    const hours = fc.integer({ min: 0, max: 300 * 366 * 48 });
    fc.assert(
      fc.property(fc.constantFrom(...ZONES), hours, (each, halfHours) => {
        const at = from + halfHours * (MS_PER_HOUR / 2);
        expect(inYear(each, "instant", at)).toBe(each.offsetAt(epochMs(at)));
        const first = firstInstant(each, wallMs(at));
        if (first === null) never++;
        expect(inYear(each, "wall", at)).toBe(first === null ? null : at - first);
      }),
      { numRuns: 20_000, seed: 7 },
    );
    expect(never).toBeGreaterThan(0);
  });

  test("bounds on wall-clock times are where instants begin, and the other way round", () => {
    const near = fc.constantFrom(-MS_PER_HOUR, -1, 0, 1, 1_799_999, MS_PER_HOUR, MS_PER_DAY);
    const changes = ZONES.flatMap((each) =>
      offsetPieces(each, "instant")
        .slice(1)
        .map(({ from }) => [each, from] as const),
    );
    fc.assert(
      fc.property(fc.constantFrom(...changes), near, near, ([each, from], one, other) => {
        const [bound, at] = [epochMs(from + one), epochMs(from + other)];
        const wall = wallAt(each, at);
        const first = firstInstant(each, wall);
        // A wall-clock time is at or after a bound just if the instant that it names first is.
        expect(wall >= leastWall(each, bound)).toBe((first ?? at) >= bound);
        const shown = wallMs(bound + each.offsetAt(bound));
        const { first: begins, except } = instantsFrom(each, shown);
        const isExcept = except !== null && at >= except.from && at < except.to;
        expect(at >= begins && !isExcept).toBe(wall >= shown);
      }),
      { numRuns: 20_000, seed: 7 },
    );
  });
});

describe("pieces of a zone's clock", () => {
  test("lead to the same hour as the wall clock, around every change", () => {
    let changes = 0;
    for (const each of ZONES) {
      const pieces = clockPieces(each, -Infinity, Infinity);
      for (const [index, { from }] of pieces.entries()) {
        if (index === 0) continue;
        changes++;
        for (const around of [-1, 0, 1, 1_799_999, MS_PER_HOUR - 1, MS_PER_HOUR]) {
          const at = from + around;
          const { shift = NaN } = pieces.findLast((piece) => piece.from <= at) ?? {};
          const wall = constantOffsetWall(epochMs(at), each);
          expect([each.id, at, hourOf(at + shift)]).toEqual([each.id, at, hourOf(wall)]);
        }
      }
    }
    expect(changes).toBeGreaterThan(1_500);
  });

  test("of a part of time are those that it needs, and no more", () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...ZONES),
        fc.integer({ min: Date.UTC(1830, 0), max: Date.UTC(2110, 0) }),
        fc.integer({ min: 1, max: 4_000 }),
        fc.double({ min: 0, max: 1, noNaN: true, maxExcluded: true }),
        (each, from, days, share) => {
          const to = Math.min(utcYearStart(2_100), from + days * MS_PER_DAY);
          if (from >= to) return;
          const pieces = clockPieces(each, from, to);
          const at = Math.floor(from + (to - from) * share);
          const { shift = NaN } = pieces.findLast((piece) => piece.from <= at) ?? {};
          expect(hourOf(at + shift)).toBe(hourOf(constantOffsetWall(epochMs(at), each)));
          expect(pieces.slice(1).every((piece) => piece.from > from && piece.from < to)).toBe(true);
        },
      ),
      { numRuns: 2_000, seed: 20_261_129 },
    );
  });

  test("from 2100 on are known by the kind of the year", () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...ZONES),
        fc.integer({ min: 2_100, max: 9_999 }),
        fc.double({ min: 0, max: 1, noNaN: true, maxExcluded: true }),
        (each, year, share) => {
          const kinds = clockYears(each);
          expect(kinds).toHaveLength(14);
          const first = weekday(dayNumber(year, 1, 1));
          const isLeap = daysInYear(year) === 366;
          const found = kinds.filter(
            (kind) => kind.firstWeekday === first && kind.isLeap === isLeap,
          );
          expect(found).toHaveLength(1);
          const start = utcYearStart(year);
          const into = Math.floor((utcYearStart(year + 1) - start) * share);
          const { shift = NaN } = found[0]?.pieces.findLast(({ from }) => from <= into) ?? {};
          const at = start + into;
          expect(hourOf(at + shift)).toBe(hourOf(constantOffsetWall(epochMs(at), each)));
        },
      ),
      { numRuns: 1_000, seed: 20_261_129 },
    );
  });
});
