import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import {
  DEMO_SEED,
  GAUGE_DAYS,
  LISTINGS,
  closures,
  gaugesTable,
  inspections,
  levels,
  loadDemo,
  locks,
  passages,
} from "@orisma/demo";
import { startTestService, type TestService } from "../../test/service.js";

/** 25 November 2026. */
const TODAY = 20_782;
const PASSAGES = 3_000;

describe("the files of the trust", () => {
  test("are a function of seed and day: the past stays as it was, and there is a future", () => {
    const past = (today: number) =>
      inspections(DEMO_SEED, today).filter(
        ({ inspected }) => Math.floor(Number(inspected)) < 46_000,
      );
    expect(past(TODAY).at(-1)).toEqual(past(TODAY + 5).at(-1));
    const ahead = closures(DEMO_SEED, TODAY).filter(({ starts }) => starts > "2026-11-26");
    expect(ahead.length).toBeGreaterThan(3);
    expect([...passages(DEMO_SEED, TODAY, 50)]).toEqual(
      [...passages(DEMO_SEED, TODAY, 80)].slice(0, 50),
    );
    expect(levels(DEMO_SEED, TODAY)).toEqual(levels(DEMO_SEED, TODAY));
    expect(locks(DEMO_SEED)).toHaveLength(9);
  });

  test("have what is hard: blanks, words for dates, open ends, both offsets of London", () => {
    const all = inspections(DEMO_SEED, TODAY);
    const blank = all.filter(({ due }) => due === null).length / all.length;
    expect(blank).toBeGreaterThan(0.35);
    expect(all.some(({ due }) => due === "after stoppage")).toBe(true);
    expect(all.some(({ inspected }) => inspected === "31/02/2025")).toBe(true);
    const ends = new Set(closures(DEMO_SEED, TODAY).map((each) => (each.ends ?? "").slice(0, 5)));
    expect([...ends]).toEqual(expect.arrayContaining(["", "until", "2025-"]));
    const offsets = new Set(
      [...passages(DEMO_SEED, TODAY, 20_000)].map(({ passed_at: at }) => at.slice(19)),
    );
    expect([...offsets].sort()).toEqual(["+00:00", "+01:00"]);
  });
});

describe("the demo in a service", () => {
  let running: TestService;
  const today = Math.floor(Date.now() / 86_400_000);

  beforeAll(async () => {
    running = await startTestService();
    await loadDemo(running.service, { passages: PASSAGES });
  });
  afterAll(() => running.end());

  /** Every record of a listing, by its id. */
  async function all(
    listing: string,
  ): Promise<ReadonlyMap<string, Readonly<Record<string, unknown>>>> {
    const found = new Map<string, Readonly<Record<string, unknown>>>();
    let page = await running.client.records(listing, { size: "500", "from.blank": "include" });
    for (;;) {
      for (const record of page.records) found.set(String(record.id), record);
      if (page.links.next === undefined) return found;
      page = await running.client.follow(page.links.next);
    }
  }

  test("has its own days off, windows and a ladder that tiles", async () => {
    const { holidays } = await running.client.holidayList("brindle-vale");
    expect(holidays.filter(({ day }) => day.startsWith("2026")).map(({ day }) => day)).toEqual([
      "2026-01-01",
      "2026-03-15",
      "2026-05-04",
      "2026-06-24",
      "2026-12-25",
      "2026-12-26",
      "2026-12-27",
    ]);
    const names = (await running.client.namedWindows()).map(({ name }) => name);
    expect(names).toEqual(expect.arrayContaining(["dredging-season", "office-week"]));
    const [ladder] = await running.client.ladders();
    expect(ladder?.rungs).toHaveLength(4);
  });

  test("is loaded with each planted fault kept, and can be loaded again", async () => {
    await loadDemo(running.service, { passages: PASSAGES });
    const { meta } = await running.client.records("works-raised", { total: "exact" });
    expect(meta.total).toBe(2_400);
    const blank = await running.client.records("works-raised", { "from.blank": "only" });
    expect(blank.meta.total).toBeGreaterThan(30);
    expect((await running.client.sources()).length).toBe(7 + GAUGE_DAYS);
    expect((await running.client.listings()).map(({ name }) => name).sort()).toEqual(
      Object.keys(LISTINGS).sort(),
    );
  });

  test("inspections: every serial is what a spreadsheet shows, and each fault has its row", async () => {
    const expected = inspections(DEMO_SEED, today);
    const found = await all("inspections-due");
    expect(found.size).toBe(expected.length);
    for (const { inspection, inspected, due } of expected) {
      const record = found.get(inspection);
      expect([inspection, record?.Inspected ?? null]).toEqual([inspection, shown(inspected, 19)]);
      expect([inspection, record?.["Next due"] ?? null]).toEqual([inspection, shown(due, 10)]);
    }
    const { imports } = await running.client.imports("inspections");
    // The note below the table is refused as what it is.
    expect(await running.client.refusedRows("inspections", imports[0]?.number ?? 0)).toMatchObject([
      { line: expected.length + 6, reason: expect.stringContaining("a note") },
    ]);
    const report = await running.client.setReadings("inspections", {
      Grade: { type: "text" },
    });
    const typed = expected.filter(({ inspected }) => inspected === "31/02/2025");
    expect(report.columns.Inspected?.unreadable).toBe(typed.length);
    expect(report.columns["Next due"]).toMatchObject({ unreadable: 0 });
  });

  test("closures: wall-clock times and seconds, blank where the end is not known", async () => {
    const found = await all("closures-begun");
    for (const { closure, starts, ends, published } of closures(DEMO_SEED, today)) {
      const record = found.get(String(closure));
      expect(record).toMatchObject({
        starts: `${starts.replace(" ", "T")}:00`,
        published: new Date(published * 1_000).toISOString().replace(".000", ""),
      });
      const isDate = ends !== null && /^\d/.test(ends);
      expect(record?.ends ?? null).toBe(isDate ? `${ends.replace(" ", "T")}:00` : null);
    }
  });

  test("passages: every instant, whatever its offset", async () => {
    const found = await all("passages-made");
    expect(found.size).toBe(PASSAGES);
    for (const { passage, passed_at: at } of passages(DEMO_SEED, today, PASSAGES)) {
      expect(found.get(passage)?.passed_at).toBe(new Date(at).toISOString().replace(".000", ""));
    }
  });

  test("locks and gauges: semicolons, another encoding, two-digit years, days without separators", async () => {
    const { columns } = await running.client.profile("locks");
    expect(columns.map(({ name }) => name)).toEqual(["lock", "name", "opened", "rebuilt", "fall"]);
    const byName = new Map(columns.map((column) => [column.name, column]));
    expect(byName.get("opened")?.quality).toMatchObject({ dated: 9, unreadable: 0 });
    const rebuilt = byName.get("rebuilt")?.quality;
    expect(rebuilt?.unreadable).toBe(0);
    expect(rebuilt?.earliest?.slice(0, 2)).toBe("19");
    expect(byName.get("name")?.samples.map(({ value }) => value)).toContain("Écluse Vale");
    const [, day, , level] = (await running.client.profile(gaugesTable(today - 1))).columns;
    expect(day?.quality).toMatchObject({ dated: 96, days: 1 });
    expect(level?.type).toBe("integer");
  });
});

/** A serial as a spreadsheet shows it, counted by the calendar of JavaScript. */
function shown(serial: number | string | null, characters: 10 | 19): string | null {
  if (typeof serial !== "number") return null;
  const minutes = Math.round(serial * 1_440);
  return new Date(Date.UTC(1899, 11, 30) + minutes * 60_000).toISOString().slice(0, characters);
}
