import { describe, expect, test } from "@jest/globals";
import { PHRASE_CASES, PHRASE_ROWS, type PhraseCase } from "../../../../../test/phrases.js";
import { epochMs, findZone, isoWall, type Edge } from "../../calendar/index.js";
import { readWindow } from "../read.js";
import { resolveWindow, type WindowContext } from "../resolve.js";
import { readPhrase } from "./read.js";

function contextOf({ asOf, zone, locale }: PhraseCase): WindowContext & { locale: string } {
  const found = findZone(zone);
  if (!found.ok) throw new Error(zone);
  return { asOf: epochMs(Date.parse(asOf)), zone: found.value, locale };
}

function dayOf(edge: Edge | null): string {
  return edge === null ? ".." : isoWall(edge.wall).replace("T00:00:00", "");
}

/** The days of a window: `now` for an edge at the time of asking, `none` where it holds no moment. */
function daysOf(window: string, context: WindowContext): string {
  const read = readWindow(window);
  if (!read.ok) throw new Error(window);
  const resolved = resolveWindow(read.value.window, context);
  if (!resolved.ok) throw new Error(window);
  const [interval, ...others] = resolved.value.intervals;
  if (others.length > 0) throw new Error(`several intervals: ${window}`);
  if (interval === undefined) return "none";
  const end = window.endsWith("/now") ? "now" : dayOf(interval.end);
  return `${dayOf(interval.start)}/${end}`;
}

describe("the table of phrases", () => {
  test("has at least 400 of them, each once, with ambiguous and wrong ones", () => {
    const keys = PHRASE_ROWS.map(({ phrase, locale }) => `${locale ?? "en"} ${phrase}`);
    expect(new Set(keys).size).toBe(keys.length);
    expect(keys.length).toBeGreaterThanOrEqual(400);
    expect(PHRASE_ROWS.filter(({ refused }) => refused !== undefined).length).toBeGreaterThan(40);
    expect(PHRASE_CASES.filter(({ means }) => means.length > 1).length).toBeGreaterThan(300);
    expect(PHRASE_CASES.filter(({ days }) => days !== null).length).toBeGreaterThan(5_000);
  });

  // One test a row: its ten cases are compared together.
  test.each(PHRASE_ROWS.map((row, at) => [`${row.locale ?? "en"}: ${row.phrase}`, at] as const))(
    "%s",
    (_, row) => {
      const cases = PHRASE_CASES.slice(row * 10, row * 10 + 10);
      const found = cases.map((each) => {
        const context = contextOf(each);
        const read = readPhrase(each.phrase, context);
        const means = read.ok ? read.value : [];
        return {
          ...each,
          refused: read.ok ? null : read.faults[0]?.code,
          means,
          days: each.days === null ? null : means.map((window) => daysOf(window, context)),
        };
      });
      expect(found).toEqual(cases);
    },
  );
});
