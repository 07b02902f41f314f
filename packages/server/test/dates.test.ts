import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { OrismaError } from "@orisma/client";
import { startTestService, type TestService } from "../../../test/service.js";

let running: TestService;

beforeAll(async () => {
  running = await startTestService();
});
afterAll(() => running.end());

describe("POST /v1/dates/read", () => {
  test("answers in the order given, with dates in words, blanks, and why what is unreadable is so", async () => {
    const reading = {
      kind: "date",
      encoding: "text",
      patterns: ["dd/MM/yyyy"],
      blanks: ["N/A"],
    } as const;
    expect(
      await running.client.readDates(["09/01/2024", "n/a", null, "31/02/2024"], reading),
    ).toEqual([
      { state: "dated", value: "09/01/2024", date: "2024-01-09", long: "9 January 2024" },
      { state: "blank", value: "n/a" },
      { state: "blank", value: null },
      {
        state: "unreadable",
        value: "31/02/2024",
        fault: expect.objectContaining({ code: "date.impossible", value: "31/02/2024" }),
      },
    ]);
  });

  test("reads numbers as spreadsheets and programs count", async () => {
    const serials = await running.client.readDates([45_292, "45292", 45_292.75, 0.25], {
      kind: "local",
      encoding: "serial-1900",
    });
    expect(serials.map(({ date, fault }) => date ?? fault?.code)).toEqual([
      "2024-01-01T00:00:00",
      "2024-01-01T00:00:00",
      "2024-01-01T18:00:00",
      "date.timeOnly",
    ]);
    const [instant] = await running.client.readDates([1_709_649_005_250], {
      kind: "instant",
      encoding: "epoch-ms",
    });
    expect(instant).toMatchObject({
      date: "2024-03-05T14:30:05.250Z",
      long: "5 March 2024, 14:30:05.250 UTC",
    });
  });

  test("refuses a reading with faults, all at once, and a body of another shape", async () => {
    const refusal = async (reading: object, values: unknown[] = ["x"]) => {
      const failure: unknown = await running.client
        .readDates(values as string[], reading as never)
        .catch((error: unknown) => error);
      if (!(failure instanceof OrismaError)) throw new Error("it was not refused");
      return [failure.status, failure.problem?.faults.map(({ code }) => code)];
    };
    expect(
      await refusal({
        kind: "date",
        encoding: "text",
        patterns: ["dd/MM", "dd/MM/yy"],
        locales: ["xx"],
      }),
    ).toEqual([422, ["locale.unknown", "reading.pattern", "reading.pattern"]]);
    expect(
      await refusal({
        kind: "date",
        encoding: "text",
        patterns: ["dd/MM", "dd/MM/yy"],
        zone: "Mars/Olympus",
      }),
    ).toEqual([422, ["reading.pattern", "reading.pattern", "zone.unknown"]]);
    expect(await refusal({ kind: "day", encoding: "text" })).toEqual([422, ["document.shape"]]);
    expect(await refusal({ kind: "date", encoding: "text" }, [{ x: 1 }])).toEqual([
      422,
      ["document.shape"],
    ]);
  });
});

describe("a source of other stored forms", () => {
  test("the same dates in six forms come out the same, and are found by the same window", async () => {
    const forms = {
      iso: { patterns: ["iso8601"] },
      dayFirst: { patterns: ["dd/MM/yyyy"] },
      named: { patterns: ["MMM d, yyyy"] },
      german: { patterns: ["d. MMMM yyyy"], locales: ["de"] },
      serial: { encoding: "serial-1900" },
      ms: { encoding: "epoch-ms" },
    } as const;
    const reading = (form: object) => ({ kind: "date", encoding: "text", ...form }) as const;
    await running.client.createSource({
      name: "forms",
      key: "n",
      columns: Object.fromEntries(
        Object.entries(forms).map(([name, form]) => [
          name,
          { type: "date", reading: reading(form) },
        ]),
      ),
    });
    await running.client.importFile(
      "forms",
      [
        "n,iso,dayFirst,named,german,serial,ms",
        '1,2024-02-28,28/02/2024,"Feb 28, 2024",28. Februar 2024,45350,1709078400000',
        '2,2024-02-29,29/02/2024,"Feb 29, 2024",29. Februar 2024,45351.75,1709164800001',
        '3,2024-03-01,01/03/2024,"Mar 1, 2024",1. März 2024,45352,1709251200000',
        "",
      ].join("\n"),
    );
    for (const column of Object.keys(forms)) {
      await running.client.declareListing("forms", {
        source: "forms",
        mainDate: column,
        parameters: [{ name: "on", type: "date", column, comparison: "on" }],
      });
      const { records } = await running.client.records("forms", { on: "2024-02-29" });
      expect(records.map((record) => [record.id, record[column]])).toEqual([["2", "2024-02-29"]]);
    }
  });
});
