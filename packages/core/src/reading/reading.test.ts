import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { isoInstant, isoWall, epochMs, wallMs } from "../calendar/index.js";
import { DATE_KINDS } from "./cell.js";
import { DATE_ENCODINGS, compileReading, readColumn, type Reading } from "./reading.js";

function cells(
  reading: Reading,
  ...stored: readonly (string | number | null)[]
): readonly string[] {
  const compiled = compileReading(reading);
  if (!compiled.ok) throw new Error(compiled.faults.map(({ code }) => code).join());
  return stored.map((value) => {
    const cell = compiled.value.read(value);
    if (cell.state === "unreadable") return `unreadable ${cell.fault.code}`;
    if (cell.state === "blank") return "blank";
    return reading.kind === "instant" ? isoInstant(epochMs(cell.ms)) : isoWall(wallMs(cell.ms));
  });
}

const WORKS: Reading = {
  kind: "date",
  encoding: "text",
  patterns: ["dd/MM/yyyy"],
  blanks: ["N/A", "tbc"],
  sentinels: ["1900-01-01"],
};

describe("compileReading", () => {
  test("distinguishes dated, blank and unreadable", () => {
    expect(
      cells(
        WORKS,
        "05/03/2024",
        " 05/03/2024 ",
        null,
        "",
        "   ",
        "n/a",
        "TBC",
        "01/01/1900",
        "31/02/2024",
        "soon",
      ),
    ).toEqual([
      "2024-03-05T00:00:00",
      "2024-03-05T00:00:00",
      "blank",
      "blank",
      "blank",
      "blank",
      "blank",
      "blank",
      "unreadable date.impossible",
      "unreadable date.pattern",
    ]);
  });

  test("several patterns are tried in order", () => {
    const reading = { ...WORKS, patterns: ["dd/MM/yyyy", "yyyyMMdd"] };
    expect(cells(reading, "05/03/2024", "20240306", "2024-03-07")).toEqual([
      "2024-03-05T00:00:00",
      "2024-03-06T00:00:00",
      "unreadable date.pattern",
    ]);
  });

  test("without a pattern ISO 8601 is read, at the precision of a day for days", () => {
    const reading: Reading = { kind: "date", encoding: "text" };
    expect(
      cells(reading, "2024-03-05", "2024-065", "2024-03", "2024-03-05T10:00", "05/03/2024"),
    ).toEqual([
      "2024-03-05T00:00:00",
      "2024-03-05T00:00:00",
      "unreadable date.form",
      "2024-03-05T00:00:00",
      "unreadable date.ambiguous",
    ]);
  });

  test("a wall-clock column keeps the time of day and refuses an offset", () => {
    const reading: Reading = { kind: "local", encoding: "text" };
    expect(cells(reading, "2024-03-05T10:00", "2024-03-05", "2024-03-05T10:00Z")).toEqual([
      "2024-03-05T10:00:00",
      "2024-03-05T00:00:00",
      "unreadable date.offsetRefused",
    ]);
  });

  test("an instant needs an offset or a zone, and a time that the zone has", () => {
    const bare: Reading = { kind: "instant", encoding: "text" };
    expect(cells(bare, "2024-07-05T10:00+01:00", "2024-07-05T10:00")).toEqual([
      "2024-07-05T09:00:00Z",
      "unreadable date.form",
    ]);
    const london = { ...bare, zone: "Europe/London" };
    expect(cells(london, "2024-07-05T10:00", "2026-03-29T01:30", "2026-10-25T01:30")).toEqual([
      "2024-07-05T09:00:00Z",
      "unreadable date.skipped",
      "2026-10-25T00:30:00Z",
    ]);
  });

  test("every fault of a reading is reported at once", () => {
    const compiled = compileReading({
      kind: "date",
      encoding: "text",
      patterns: ["dd/MM", "qq"],
      zone: "Mars/Olympus",
      sentinels: ["never"],
    });
    expect(!compiled.ok && compiled.faults.map(({ code }) => code)).toEqual([
      "reading.pattern",
      "reading.pattern",
      "zone.unknown",
      "date.form",
    ]);
  });
});

describe("day numbers of spreadsheets", () => {
  const serial: Reading = { kind: "local", encoding: "serial-1900" };

  test("are read whole, with a fraction, and as text", () => {
    expect(cells(serial, 45_292, "45292", 45_292.75, "45292.75", 0, 1, 60, 61)).toEqual([
      "2024-01-01T00:00:00",
      "2024-01-01T00:00:00",
      "2024-01-01T18:00:00",
      "2024-01-01T18:00:00",
      "1899-12-30T00:00:00",
      "1899-12-31T00:00:00",
      "1900-02-28T00:00:00",
      "1900-03-01T00:00:00",
    ]);
  });

  test("report where a spreadsheet shows another day", () => {
    const compiled = compileReading(serial);
    const shown = (value: number) => {
      const cell = compiled.ok ? compiled.value.read(value) : null;
      const [answer] = cell?.state === "dated" ? (cell.notices ?? []) : [];
      return answer?.code === "serial.shifted" ? answer.facts.shown : null;
    };
    expect([1, 31, 32, 59, 60, 61].map(shown)).toEqual([
      "1 January 1900",
      "31 January 1900",
      "1 February 1900",
      "28 February 1900",
      "29 February 1900, a day that never was",
      null,
    ]);
  });

  test("are rounded to the millisecond, so that none is a second early", () => {
    expect(cells(serial, 45_292.7499999999, 45_292.999_999_999_9)).toEqual([
      "2024-01-01T18:00:00",
      "2024-01-02T00:00:00",
    ]);
  });

  test("have a system that begins in 1904", () => {
    const mac: Reading = { kind: "date", encoding: "serial-1904" };
    expect(cells(mac, 43_830, 0, 43_830.5)).toEqual([
      "2024-01-01T00:00:00",
      "1904-01-01T00:00:00",
      "2024-01-01T00:00:00",
    ]);
  });

  test("are no dates below a day, outside the years, or as other text", () => {
    expect(cells(serial, 0.5, -1, 2_958_465, 2_958_466, NaN, "45,292", "2024-01-01")).toEqual([
      "unreadable date.timeOnly",
      "unreadable date.number",
      "9999-12-31T00:00:00",
      "unreadable date.number",
      "unreadable date.number",
      "unreadable date.number",
      "unreadable date.number",
    ]);
  });
});

describe("counts since 1970", () => {
  test("are read in seconds, milliseconds and microseconds, floored to the millisecond", () => {
    const read = (encoding: Reading["encoding"], ...values: (string | number)[]) =>
      cells({ kind: "instant", encoding }, ...values);
    expect(read("epoch-s", 1_709_649_005, "1709649005", 1.001, -0.5)).toEqual([
      "2024-03-05T14:30:05Z",
      "2024-03-05T14:30:05Z",
      "1970-01-01T00:00:01.001Z",
      "1969-12-31T23:59:59.500Z",
    ]);
    expect(read("epoch-ms", 1_709_649_005_250, "1e3")).toEqual([
      "2024-03-05T14:30:05.250Z",
      "1970-01-01T00:00:01Z",
    ]);
    expect(
      read("epoch-us", "1709649005250999", "-1", "253402300799999999", "253402300800000000"),
    ).toEqual([
      "2024-03-05T14:30:05.250Z",
      "1969-12-31T23:59:59.999Z",
      "9999-12-31T23:59:59.999Z",
      "unreadable date.number",
    ]);
  });

  test("are days on the clock of a zone", () => {
    const at = Date.UTC(2024, 6, 5, 23, 30);
    expect(cells({ kind: "date", encoding: "epoch-ms" }, at)).toEqual(["2024-07-05T00:00:00"]);
    expect(cells({ kind: "date", encoding: "epoch-ms", zone: "Europe/London" }, at)).toEqual([
      "2024-07-06T00:00:00",
    ]);
  });
});

describe("other stored forms", () => {
  test("a database's own dates are read, and never a number or an offset", () => {
    expect(
      cells(
        { kind: "local", encoding: "native" },
        "2024-03-05 14:30:05.250",
        "2024-03-05",
        "0000-00-00",
        20240305,
        "2024-03-05T10:00Z",
      ),
    ).toEqual([
      "2024-03-05T14:30:05.250",
      "2024-03-05T00:00:00",
      "unreadable date.impossible",
      "unreadable date.type",
      "unreadable date.offsetRefused",
    ]);
    expect(
      cells({ kind: "instant", encoding: "native", zone: "Europe/London" }, "2024-07-05 10:00:00"),
    ).toEqual(["2024-07-05T09:00:00Z"]);
  });

  test("the dates of mail and HTTP headers are read", () => {
    const mail: Reading = { kind: "instant", encoding: "text", patterns: ["rfc5322", "iso8601"] };
    expect(
      cells(
        mail,
        "Tue, 05 Mar 2024 14:30:05 +0100",
        "5 Mar 2024 14:30 GMT",
        "2024-03-05T14:30Z",
        "Mon, 05 Mar 2024 14:30:05 +0100",
        "Tue, 05 Mrz 2024 14:30:05 +0100",
        "Tue,  5 Mar 2024\r\n 14:30:05  +0100 (CET)",
        "(sent (late) \\) ) Tue, 5 Mar 24 14 : 30 GMT",
        "5 Mar 99 14:30 GMT",
        "5 Mar 099 14:30 GMT",
        "Tue, 05 Mar 2024 14:30:05 +0100 (CET",
        "(".repeat(2_000),
        "2024-03-05 14:30:05.25z",
      ),
    ).toEqual([
      "2024-03-05T13:30:05Z",
      "2024-03-05T14:30:00Z",
      "2024-03-05T14:30:00Z",
      "unreadable date.impossible",
      "unreadable date.form",
      "2024-03-05T13:30:05Z",
      "2024-03-05T14:30:00Z",
      "1999-03-05T14:30:00Z",
      "1999-03-05T14:30:00Z",
      "unreadable date.form",
      "unreadable date.form",
      "2024-03-05T14:30:05.250Z",
    ]);
  });

  test("what a zone or an offset leads out of the calendar is no date, and a sentinel is blank all the same", () => {
    const text = { kind: "instant", encoding: "text" } as const;
    const out = "unreadable date.impossible";
    expect(
      cells(text, "0001-01-01T00:00+01:00", "0001-01-01T01:00+01:00", "9999-12-31T23:59-01:00"),
    ).toEqual([out, "0001-01-01T00:00:00Z", out]);
    const tokyo: Reading = { ...text, zone: "Asia/Tokyo" };
    expect(cells(tokyo, "0001-01-01T00:00", "0001-01-02T00:00")[0]).toBe(out);
    expect(cells({ ...tokyo, sentinels: ["0001-01-01"] }, "0001-01-01T00:00")).toEqual(["blank"]);
    const west: Reading = { ...text, zone: "America/New_York", sentinels: ["9999-12-31"] };
    expect(cells(west, "9999-12-31T23:59", "9999-12-31T23:59-05:00")).toEqual(["blank", "blank"]);
    const days: Reading = { kind: "date", encoding: "epoch-ms", zone: "Pacific/Auckland" };
    const last = Date.UTC(9999, 11, 31);
    expect(cells(days, last + 86_399_999, last)).toEqual([out, "9999-12-31T00:00:00"]);
  });

  test("sentinels cover the whole of the time that they name", () => {
    const reading: Reading = { kind: "local", encoding: "text", sentinels: ["9999-12-31", "1900"] };
    expect(cells(reading, "9999-12-31T23:59:59", "9999-12-30", "1900-06-01", "1899-12-31")).toEqual(
      ["blank", "9999-12-30T00:00:00", "blank", "1899-12-31T00:00:00"],
    );
  });

  test("what is written back in the stored form reads as the same", () => {
    const day = fc.integer({
      min: Date.UTC(1905, 0, 1) / 86_400_000,
      max: Date.UTC(9998, 0, 1) / 86_400_000,
    });
    const patterns = fc.constantFrom(
      ["iso8601"],
      ["dd/MM/yyyy HH:mm:ss.SSS"],
      ["EEEE d MMMM yyyy, h:mm:ss.SSS a"],
    );
    fc.assert(
      fc.property(
        fc.constantFrom(...DATE_KINDS),
        fc.constantFrom(...DATE_ENCODINGS),
        patterns,
        fc.constantFrom(undefined, "UTC", "Asia/Kathmandu"),
        day,
        fc.nat(86_399_999),
        (kind, encoding, strings, zone, number, time) => {
          // A pattern without an offset needs a zone to be an instant.
          if (kind === "instant" && encoding === "text" && zone === undefined) return;
          const compiled = compileReading({
            kind,
            encoding,
            patterns: strings,
            ...(zone === undefined ? {} : { zone }),
          });
          if (!compiled.ok) throw new Error("the reading has a fault");
          const ms = number * 86_400_000 + (kind === "date" ? 0 : time);
          const stored = compiled.value.write(ms);
          expect([stored, compiled.value.read(stored)]).toEqual([stored, { state: "dated", ms }]);
          expect(compiled.value.dateOf(stored)).toBe(ms);
        },
      ),
      { numRuns: 1_500 },
    );
  });
});

describe("write, with several patterns", () => {
  test("takes the first that has room for the time", () => {
    const patterns = ["dd/MM/yyyy", "dd/MM/yyyy HH:mm"];
    const compiled = compileReading({ kind: "local", encoding: "text", patterns });
    if (!compiled.ok) throw new Error("the reading has a fault");
    const write = (ms: number) => compiled.value.write(ms);
    expect(write(Date.UTC(2025, 1, 28))).toBe("28/02/2025");
    expect(write(Date.UTC(2025, 1, 28, 9, 30))).toBe("28/02/2025 09:30");
    // None has room for the seconds: the first, as before.
    expect(write(Date.UTC(2025, 1, 28, 9, 30, 5))).toBe("28/02/2025");
  });
});

describe("dateOf", () => {
  test("is the date of read, and NaN wherever read has none", () => {
    const readings: readonly Reading[] = [
      WORKS,
      { kind: "local", encoding: "text", patterns: ["dd/MM/yyyy HH:mm"] },
      { kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"], zone: "Europe/London" },
      { kind: "date", encoding: "serial-1900", blanks: ["N/A"] },
      { kind: "local", encoding: "serial-1904" },
      { kind: "date", encoding: "text", patterns: ["d MMM yyyy", "yyyy-MM-dd", "MM/dd/yyyy"] },
      { kind: "local", encoding: "text", patterns: ["yyyy-MM-dd'T'HH:mm"] },
      { kind: "instant", encoding: "text", patterns: ["yyyy-MM-dd HH:mmXXX"] },
      { kind: "instant", encoding: "text", patterns: ["dd/MM/yyyy HH:mm"], zone: "Europe/London" },
      { kind: "instant", encoding: "text", patterns: ["rfc5322", "iso8601"] },
      { kind: "date", encoding: "text", partial: "start", sentinels: ["1900"] },
    ];
    const strings = [
      "5 Mar 2024",
      "5 MARCH 2024",
      "5 Mrach 2024",
      "2024-03-05",
      "２０２４-03-05",
      "2024-03-05T14:30",
      "2024-03-05t14:30",
      "2024-03-05 14:30+01:00",
      "0001-01-01 00:30+01:00",
      "31/03/2024 01:30",
      "Tue, 5 Mar 2024 14:30 GMT",
      "(late) Tue, 5 Mar 2024 14:30 GMT",
      "1900-07",
      "1977?",
      "+5",
      "paddle repaired, 3 found",
      "\u00a005/03/2024",
      "05/03/2024",
      " 05/03/2024",
      "31/02/2024",
      "0x/03/2024",
      "05-03-2024",
      "05/03/2024 14:30",
      "05/03/2024 24:30",
      "٠٥/٠٣/٢٠٢٤",
      "N/A",
      "tbc",
      "",
      "45292",
      "01/01/1900",
    ];
    for (const reading of readings) {
      const compiled = compileReading(reading);
      if (!compiled.ok) throw new Error("the reading has a fault");
      const dates = readColumn(compiled.value, strings);
      expect([...dates]).toEqual(strings.map((text) => compiled.value.dateOf(text)));
      for (const text of [...strings, null, 45_292.5, 0, 0.5, -1, 60, 2_958_466, NaN]) {
        const cell = compiled.value.read(text);
        expect([text, compiled.value.dateOf(text)]).toEqual([
          text,
          cell.state === "dated" ? cell.ms : NaN,
        ]);
      }
    }
  });
});

describe("dates without a day", () => {
  const read = (text: string, reading: Partial<Reading> = {}) => {
    const compiled = compileReading({
      ...{ kind: "date", encoding: "text", partial: "start" },
      ...reading,
    });
    if (!compiled.ok) return compiled.faults.map(({ code }) => code).join();
    const cell = compiled.value.read(text);
    const day = compiled.value.dateOf(text);
    expect(Number.isNaN(day)).toBe(cell.state !== "dated");
    return cell.state === "dated" ? new Date(cell.ms).toISOString().slice(0, 10) : cell.state;
  };

  test.each([
    ["1977", "1977-01-01", {}],
    ["2010-12", "2010-12-01", {}],
    ["2020-Q3", "2020-07-01", {}],
    ["2020-W01", "2019-12-30", {}],
    ["2010-12-24", "2010-12-24", {}],
    ["1984?", "1984-01-01", {}],
    ["2004-06~", "2004-06-01", {}],
    ["2004-06-11%", "2004-06-11", {}],
    ["199X", "1990-01-01", {}],
    ["19XX?", "1900-01-01", {}],
    ["1985-04-XX", "1985-04-01", {}],
    ["1985-XX", "1985-01-01", {}],
    ["1985-XX-XX", "1985-01-01", {}],
    ["March 1987", "1987-03-01", { patterns: ["MMMM yyyy"] }],
    ["Q3 2020", "2020-07-01", { patterns: ["'Q'Q yyyy"] }],
    ["1977", "1977-01-01", { patterns: ["dd/MM/yyyy", "MM/yyyy", "yyyy"] }],
    ["04/1987", "1987-04-01", { patterns: ["dd/MM/yyyy", "MM/yyyy", "yyyy"] }],
    ["24/12/1987", "1987-12-24", { patterns: ["dd/MM/yyyy", "MM/yyyy", "yyyy"] }],
  ])("%s is %s, its first day, where that is declared", (text, day, reading) => {
    expect(read(text, reading)).toBe(day);
  });

  test.each([
    ["1977", "unreadable", { partial: undefined }],
    ["2010-13", "unreadable", {}],
    ["1984?", "unreadable", { partial: undefined }],
    ["199X", "unreadable", { partial: undefined }],
    ["199X-04", "unreadable", {}],
    ["199X-XX", "unreadable", {}],
    ["1985-XX-04", "unreadable", {}],
    ["1X85", "unreadable", {}],
    ["000X", "unreadable", {}],
    ["1984-02-30?", "unreadable", {}],
    ["1984??", "unreadable", {}],
    ["Q5 2020", "unreadable", { patterns: ["'Q'Q yyyy"] }],
    ["March 1987", "reading.pattern", { patterns: ["MMMM yyyy"], partial: undefined }],
    ["March", "reading.pattern", { patterns: ["MMMM"] }],
    ["1977 10", "reading.pattern", { patterns: ["yyyy HH"] }],
    ["1977", "reading.partial", { kind: "local" }],
    ["1977", "reading.partial", { encoding: "epoch-s" }],
  ] as const)("%s is %s where it cannot be meant", (text, found, reading) => {
    expect(read(text, reading as Partial<Reading>)).toBe(found);
  });
});

describe("ISO 8601 in its basic form", () => {
  const compiled = compileReading({ kind: "instant", encoding: "text" });
  const read = (text: string) => {
    const cell = compiled.ok ? compiled.value.read(text) : null;
    return cell?.state === "dated" ? new Date(cell.ms).toISOString() : cell?.state;
  };

  test.each([
    ["20110312T200000Z", "2011-03-12T20:00:00.000Z"],
    ["20110312T2000Z", "2011-03-12T20:00:00.000Z"],
    ["20110312T200000,5+0130", "2011-03-12T18:30:00.500Z"],
    ["20110312T20-05", "2011-03-13T01:00:00.000Z"],
  ])("%s is %s", (text, instant) => {
    expect(read(text)).toBe(instant);
  });

  test.each(["20110332", "20110312T250000Z", "2011031", "20110312 2000", "20110312T200000+01:00"])(
    "%s is none",
    (text) => {
      expect(read(text)).toBe("unreadable");
    },
  );
});
