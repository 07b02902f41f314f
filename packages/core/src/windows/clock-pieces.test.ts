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
  utcYearStart,
  weekday,
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
