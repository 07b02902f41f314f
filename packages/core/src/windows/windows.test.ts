import { describe, expect, test } from "@jest/globals";
import { epochMs, findZone, isoInstant, isoWall, type Zone } from "../calendar/index.js";
import { renderFault } from "../faults/index.js";
import {
  compileDateForm,
  leavesIso,
  readIsoDate,
  type DateForm,
  type WrittenDate,
} from "../reading/index.js";
import { DATE_FIELDS, dateOfFields } from "./fields.js";
import { readGiven, type GivenInput } from "./input.js";
import { isReversed } from "./pair.js";
import { readWindow } from "./read.js";
import { resolveWindow } from "./resolve.js";
import { dateInWords, writtenEndInWords, writtenStartInWords } from "./sentence.js";
import { resolveSpan } from "./span.js";
import { windowText } from "./write.js";

function zone(id: string): Zone {
  const found = findZone(id);
  if (!found.ok) throw new Error(`no zone ${id}`);
  return found.value;
}

function written(text: string): WrittenDate {
  const read = readIsoDate(text);
  if (!read.ok) throw new Error(`${text} is no date`);
  return read.value;
}

function span(text: string, id = "Europe/London") {
  return resolveSpan(written(text), zone(id)).span;
}

describe("resolveSpan", () => {
  test("a day has both faces of its edges, in summer time too", () => {
    const { start, end } = span("2025-07-01");
    expect([isoWall(start.wall), isoInstant(start.instant)]).toEqual([
      "2025-07-01T00:00:00",
      "2025-06-30T23:00:00Z",
    ]);
    expect([isoWall(end.wall), isoInstant(end.instant)]).toEqual([
      "2025-07-02T00:00:00",
      "2025-07-01T23:00:00Z",
    ]);
  });

  test("days of a clock change have 23 and 25 hours", () => {
    const hours = (text: string) => (span(text).end.instant - span(text).start.instant) / 3_600_000;
    expect([hours("2026-03-29"), hours("2026-03-30"), hours("2026-10-25")]).toEqual([23, 24, 25]);
  });

  test("a skipped day covers no instant, though it has a wall-clock face", () => {
    const { start, end } = span("2011-12-30", "Pacific/Apia");
    expect(start.instant).toBe(end.instant);
    expect(end.wall - start.wall).toBe(86_400_000);
  });

  test("an edge in a repeated hour widens, in a skipped one it is the change; both are reported", () => {
    const repeated = resolveSpan(written("2026-10-25T01:30"), zone("Europe/London"));
    expect([
      isoInstant(repeated.span.start.instant),
      isoInstant(repeated.span.end.instant),
    ]).toEqual(["2026-10-25T00:30:00Z", "2026-10-25T01:31:00Z"]);
    expect(repeated.notices.map(({ code }) => code)).toEqual(["edge.repeated", "edge.repeated"]);
    const skipped = resolveSpan(written("2026-03-29T01:30"), zone("Europe/London"));
    expect(isoInstant(skipped.span.start.instant)).toBe("2026-03-29T01:00:00Z");
    expect(skipped.notices.map(({ code }) => code)).toEqual(["edge.skipped", "edge.skipped"]);
  });

  test("a written offset decides the instant; the wall clock is the zone's", () => {
    const { start } = span("2025-07-01T00:30+02:00");
    expect([isoWall(start.wall), isoInstant(start.instant)]).toEqual([
      "2025-06-30T23:30:00",
      "2025-06-30T22:30:00Z",
    ]);
  });
});

const PATTERN: DateForm = { encoding: "text", patterns: ["dd/MM/yyyy"] };

describe("what callers send", () => {
  const given = (raw: string, type: GivenInput["type"], form?: DateForm) => {
    const compiled = form === undefined ? null : compileDateForm(form);
    return readGiven(raw, {
      parameter: "from",
      type,
      ...(compiled?.ok === true ? { form: compiled.value } : {}),
    });
  };
  const text = (...args: Parameters<typeof given>) => {
    const read = given(...args);
    if (!read.ok) return read.faults.map(({ code }) => code).join();
    if (read.value.kind === "part") return read.value.part.text;
    return read.value.kind === "window" ? windowText(read.value.window) : read.value.kind;
  };

  test.each([
    "",
    "   ",
    "null",
    "NULL",
    "undefined",
    "0001-01-01",
    "0001-01-01T00:00:00",
    "0001-01-01 00:00:00",
    "0001-01-01T00:00:00.000Z",
  ])("“%s” is not given", (raw) => {
    expect(text(raw, "date")).toBe("notGiven");
    expect(text(raw, "window")).toBe("notGiven");
  });

  test("0001-01-02 is given, and two dots are an explicit open end", () => {
    expect(text("0001-01-02", "date")).toBe("0001-01-02");
    expect(text("..", "date")).toBe("open");
  });

  test("a date refuses a time of day and says which day to send; a moment takes it", () => {
    expect(given("2025-02-28T00:00", "date")).toMatchObject({
      ok: false,
      faults: [{ code: "date.timeRefused", facts: { day: "2025-02-28" } }],
    });
    for (const finer of ["hour", "minute-5", "today+PT1H", "2025-02-28T14"]) {
      expect(text(finer, "date")).toBe("date.timeRefused");
      expect(text(finer, "datetime")).toBe(finer);
    }
  });

  test("dates that move are taken where one date is, and intervals where a window is", () => {
    const moving = ["month-1", "today", "now", "day-7", "month.15", "2024-01-31+P1M", "now-PT2H"];
    expect(moving.map((each) => text(each, "datetime"))).toEqual(moving);
    expect(text("MONTH-1", "date")).toBe("month-1");
    for (const interval of ["month-1/now", "P6W/now", "2024;BYMONTH=1", "2023|2024"]) {
      expect(text(interval, "datetime")).toBe("window.oneDate");
      expect(text(interval, "window")).toBe(interval);
    }
  });

  test("a plus or a T that became a space, odd dashes and white space are read as meant", () => {
    expect(text("today P1M", "date")).toBe("today+P1M");
    expect(text("quarter 2", "date")).toBe("quarter+2");
    expect(text("2025-02-28 14:30", "datetime")).toBe("2025-02-28T14:30");
    expect(text("2025-02-28T14:30 01:00", "datetime")).toBe("2025-02-28T14:30+01:00");
    expect(given(" 2025\u201302 ", "date")).toMatchObject({
      value: {
        kind: "part",
        part: { text: "2025-02" },
        notices: [{ code: "value.dashes" }, { code: "value.trimmed" }],
      },
    });
  });

  test("what can be read two ways, or never was, is refused with what is meant", () => {
    expect(text("03/04/2024", "date")).toBe("date.ambiguous");
    expect(text("03/04/2024", "window")).toBe("date.ambiguous");
    expect(text("2024-02-30", "date")).toBe("date.impossible");
    expect(given("monht-1", "date")).toMatchObject({
      faults: [{ code: "window.word", facts: { word: "monht" } }],
    });
    expect(given("today-7", "date")).toMatchObject({
      faults: [{ code: "window.form", facts: { instead: "say day-7" } }],
    });
  });

  describe("in a declared form", () => {
    test.each<[string, DateForm, string, string]>([
      ["a pattern names a day", PATTERN, "03/04/2024", "2024-04-03"],
      ["ISO 8601 is read beside it", PATTERN, "2024-04", "2024-04"],
      ["and so is the notation", PATTERN, "month-1", "month-1"],
      ["a day that never was is refused", PATTERN, "31/02/2024", "date.impossible"],
      ["another form is refused", PATTERN, "3.4.2024", "date.pattern"],
      ["seconds name a second", { encoding: "epoch-s" }, "1709649000", "2024-03-05T14:30:00Z"],
      ["four digits are a year", { encoding: "epoch-s" }, "2024", "2024"],
      [
        "milliseconds name a millisecond",
        { encoding: "epoch-ms" },
        "1709649000000",
        "2024-03-05T14:30:00.000Z",
      ],
      ["a day number names a day", { encoding: "serial-1900" }, "45356", "2024-03-05"],
      [
        "with a fraction it names a moment",
        { encoding: "serial-1900" },
        "45356.75",
        "2024-03-05T18:00:00.000",
      ],
      ["a time alone is no date", { encoding: "serial-1900" }, "0.5", "date.timeOnly"],
      ["text is no number", { encoding: "epoch-s" }, "17e", "date.pattern"],
    ])("%s", (_, form, raw, expected) => {
      expect(text(raw, "datetime", form)).toBe(expected);
    });

    test("nothing of it is read where it is not declared", () => {
      expect(text("1709649000", "datetime")).not.toMatch(/^20/);
      expect(text("45356", "datetime")).not.toMatch(/^20/);
    });

    test("a date takes no moment in it, and a form that cannot be is refused", () => {
      expect(text("1709649000", "date", { encoding: "epoch-s" })).toBe("date.timeRefused");
      expect(text("45356", "date", { encoding: "serial-1900" })).toBe("2024-03-05");
      expect(compileDateForm({ encoding: "text", patterns: ["qq/MM"] })).toMatchObject({
        ok: false,
        faults: [{ code: "reading.pattern" }],
      });
      expect(compileDateForm({ encoding: "text" }).ok).toBe(false);
    });

    test.each<[DateForm, boolean]>([
      [{ encoding: "text", patterns: ["dd/MM/yyyy"] }, true],
      [{ encoding: "text", patterns: ["yyyy-MM-dd", "yyyyMMdd"] }, true],
      [{ encoding: "epoch-s" }, true],
      [{ encoding: "serial-1900" }, true],
      [{ encoding: "text", patterns: ["yyyy-dd-MM"] }, false],
    ])("ISO 8601 means itself beside %j: %s", (form, expected) => {
      const compiled = compileDateForm(form);
      expect(compiled.ok && leavesIso(compiled.value)).toBe(expected);
      // What it says is what a caller gets.
      const day = text("2001-02-03", "date", form);
      expect(day === "2001-02-03" && text("2001", "date", form) === "2001").toBe(expected);
    });

    test("each covers just what it names", () => {
      const span = (form: DateForm, raw: string) => {
        const read = given(raw, "datetime", form);
        if (!read.ok || read.value.kind !== "part") return [];
        const { base } = read.value.part;
        return base.kind === "written"
          ? [isoWall(base.written.start), isoWall(base.written.end)]
          : [];
      };
      expect(
        span({ encoding: "text", patterns: ["dd/MM/yyyy HH:mm"] }, "05/03/2024 14:30"),
      ).toEqual(["2024-03-05T14:30:00", "2024-03-05T14:31:00"]);
      expect(span({ encoding: "epoch-s" }, "1709649000")).toEqual([
        "2024-03-05T14:30:00",
        "2024-03-05T14:30:01",
      ]);
    });
  });

  test("hostile text is a fault, in bounded time, whatever is declared", () => {
    const hostile = [
      "9".repeat(100_000),
      "/".repeat(5_000),
      "x'y'; --",
      "1e309",
      "-".repeat(9_999),
    ];
    for (const raw of hostile) {
      for (const form of [undefined, PATTERN, { encoding: "epoch-ms" } as const]) {
        expect(given(raw, "datetime", form).ok).toBe(false);
      }
    }
  });
});

describe("a date in separate fields", () => {
  const fields = (...strings: readonly (string | undefined)[]) =>
    dateOfFields(
      Object.fromEntries(
        DATE_FIELDS.flatMap((field, index) => {
          const raw = strings[index];
          return raw === undefined ? [] : [[field, { parameter: `its ${field}`, raw }]];
        }),
      ),
    );

  test.each([
    [["2024", "1", "9"], "2024-01-09"],
    [["2024", "01", "09"], "2024-01-09"],
    [["2024", "2"], "2024-02"],
    [["2024"], "2024"],
    [["2024", "2", ""], "2024-02"],
    [[], null],
    [["", "null", undefined], null],
  ])("%j is %s", (strings, expected) => {
    expect(fields(...strings)).toEqual({ ok: true, value: expected });
  });

  test("a number that cannot be, and two that seem exchanged, are reported", () => {
    const answer = (...strings: string[]) => {
      const found = fields(...strings);
      return found.ok ? [] : found.faults.map((each) => renderFault(each));
    };
    expect(answer("2024", "13")).toEqual([
      {
        parameter: "its month",
        value: "13",
        code: "field.value",
        message: "the value is not a month",
        accepted: "a month, 1 to 12",
      },
    ]);
    expect(answer("2", "2024").map(({ message }) => message)).toEqual([
      "the value is not a year, but could be a month: are the two swapped?",
      "the value is not a month, but could be a year: are the two swapped?",
    ]);
    expect(answer("2024", "x").map(({ message }) => message)).toEqual(["the value is not a month"]);
    expect(answer("24").map(({ code }) => code)).toEqual(["field.value"]);
  });

  test("a month without its year, and a day without its month, say nothing", () => {
    expect(fields("", "2")).toMatchObject({
      faults: [{ code: "field.missing", parameter: "its month", facts: { needs: "its year" } }],
    });
    expect(fields("2024", "", "9")).toMatchObject({
      faults: [{ code: "field.missing", parameter: "its day", facts: { needs: "its month" } }],
    });
  });
});

describe("now on a column of days", () => {
  const NOON = { asOf: epochMs(Date.UTC(2024, 4, 15, 13, 30)), zone: zone("Europe/London") };
  const edges = (window: string, wholeDays: boolean) => {
    const read = readWindow(window);
    const found = read.ok ? resolveWindow(read.value.window, { ...NOON, wholeDays }) : read;
    const [interval] = found.ok ? found.value.intervals : [];
    return [interval?.start, interval?.end].map((each) =>
      each == null ? null : isoWall(each.wall),
    );
  };

  test("is all of today: a start is its beginning, an end its end", () => {
    expect(edges("month/now", true)).toEqual(["2024-05-01T00:00:00", "2024-05-16T00:00:00"]);
    expect(edges("now/..", true)).toEqual(["2024-05-15T00:00:00", null]);
    expect(edges("P1W/now", true)).toEqual(["2024-05-09T00:00:00", "2024-05-16T00:00:00"]);
    expect(edges("month/now", false)).toEqual(["2024-05-01T00:00:00", "2024-05-15T14:30:00"]);
  });
});

describe("isReversed", () => {
  test.each([
    ["2025-02-28", "2025-02-01", true],
    ["2025-03-06", "2025-03-05", true],
    ["2025-03", "2025-02", true],
    ["2025-02-01", "2025-02-28", false],
    ["2025-02-10", "2025-02-10", false],
    ["2025-02-10", "2025-02", false],
    ["2025-02", "2025-02-10", false],
  ])("from %s to %s: %s", (from, to, expected) => {
    expect(isReversed(span(from), span(to))).toBe(expected);
  });
});

describe("sentences", () => {
  test("say a date at its own precision", () => {
    const words = [
      "2025",
      "2025-Q2",
      "2025-02",
      "2025-W09",
      "2025-02-28",
      "2025-02-28T14:30",
      "2025-02-28T14:30:05Z",
    ];
    expect(words.map((text) => dateInWords(written(text)))).toEqual([
      "2025",
      "quarter 2 of 2025",
      "February 2025",
      "week 09 of 2025",
      "28 February 2025",
      "28 February 2025, 14:30",
      "28 February 2025, 14:30:05 UTC",
    ]);
  });

  test("say where an interval begins and that its last day is in", () => {
    expect([
      writtenStartInWords(written("2025-02")),
      writtenEndInWords(written("2025-02")),
    ]).toEqual(["1 February 2025", "until 28 February 2025"]);
    expect(writtenEndInWords(written("2025-02-28T14"))).toBe("before 28 February 2025, 15:00");
  });
});
