import { execFile, spawn } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import type { RecordsAnswer } from "@orisma/core/internal";
import { ROOT, startTestService, type TestService } from "../../../test/service.js";
import { LISTINGS, SMALL_CSV, importWorks } from "../../../test/works.js";
import { until } from "../../../test/until.js";
import { runOrisma, type Ran } from "./process.js";

let running: TestService;
const scratch = mkdtempSync(join(tmpdir(), "orisma-cli-"));

beforeAll(async () => {
  running = await startTestService();
  await importWorks(running.client);
});
afterAll(async () => {
  rmSync(scratch, { recursive: true, force: true });
  await running.end();
});

function orisma(words: readonly string[], environment: Record<string, string> = {}): Promise<Ran> {
  return runOrisma(words, { state: running.state, cwd: scratch, environment });
}

const FEBRUARY = ["--from", "2025-02-01", "--to", "2025-02-28"];

describe("orisma records with columns chosen", () => {
  test("prints those, in their order, and none that was not requested", async () => {
    const words = [
      "records",
      "works-raised",
      ...FEBRUARY,
      "--columns",
      "cost",
      "--columns",
      "raised",
    ];
    const [, , heading] = (await orisma(words)).out.split("\n");
    expect(heading?.trim().split(/\s+/)).toEqual(["id", "cost", "raised"]);
    const csv = await orisma([...words, "--csv"]);
    expect(csv.out.split("\n")[0]).toBe("id,cost,raised");
    expect(csv.out.split("\n")[1]).toMatch(/^W-\d+,\d+,2025-02-\d\d$/);
  });
});

describe("orisma records", () => {
  test("draws a table with its sentence and total", async () => {
    const { code, out } = await orisma(["records", "works-raised", ...FEBRUARY]);
    expect(code).toBe(0);
    const lines = out.split("\n");
    expect(lines[0]).toContain("raised 1–28 February 2025, blank dates excluded");
    expect(lines[2]).toMatch(/^order +raised +passed +cost +note$/);
    expect(out).toMatch(/^W-02 +2025-02-01 .* 2000 +first, at midnight$/m);
    expect(out).not.toContain("W-06");
    expect(out).toContain("3 of 4 records shown; --all shows the rest");
    expect((await orisma(["records", "works-raised", ...FEBRUARY, "--all"])).out).toContain(
      "\n4 records\n",
    );
  });

  test("means the same in whatever order its words come", async () => {
    const one = await orisma([
      "records",
      "works-raised",
      "--json",
      "--from=2025-02-01",
      "--order",
      "-raised",
      "--to",
      "2025-02-28",
    ]);
    const other = await orisma([
      "records",
      "--order",
      "-raised",
      "works-raised",
      "--to=2025-02-28",
      "--from",
      "2025-02-01",
      "--json",
    ]);
    const records = ({ out }: Ran) => (JSON.parse(out) as RecordsAnswer).records;
    expect(records(one)).toEqual(records(other));
    expect(records(one).map(({ id }) => id)).toEqual(["W-05", "W-04", "W-03"]);
  });

  test("prints CSV of all pages, with unreadable cells as they came, and reports the rest beside it", async () => {
    const { out, err } = await orisma(["records", "works-raised", "--csv"]);
    expect(out.trim().split("\n")).toHaveLength(11);
    expect(out).toContain('W-02,2025-02-01,2025-02-01T00:00:00Z,2000,"first, at midnight"\n');
    expect(out).toContain("W-10,31/02/2025,soon,10,unreadable\n");
    expect(err).toContain("all records");
  });

  test("heads CSV with the labels of the columns", async () => {
    const { client } = running;
    const labels = { raised: "reported", cost: "cost in pence" };
    await client.declareListing("labelled", { source: "works", mainDate: "raised", labels });
    const { out } = await orisma(["records", "labelled", "--from", "2025-02-28", "--csv"]);
    expect(out.split("\n")[0]).toMatch(/^order,reported,.*cost in pence/);
    await client.deleteListing("labelled");
  });

  test("marks a swap, an unreadable cell and an empty window", async () => {
    expect(
      (await orisma(["records", "works-raised", "--from", "2025-02-28", "--to", "2025-02-01"])).out,
    ).toContain("Note: the dates were in reverse order and were swapped");
    expect((await orisma(["records", "works-raised", "--all"])).out).toContain("?? 31/02/2025");
    expect((await orisma(["records", "works-raised", "--from", "2031"])).out).toContain(
      "\nNo records\n",
    );
  });

  test("reports what is wrong with a value or a name, and ends with 2", async () => {
    const { code, out, err } = await orisma([
      "records",
      "works-raised",
      "--from",
      "31/02/2025",
      "--form",
      "x",
    ]);
    expect([code, out]).toEqual([2, ""]);
    expect(err).toContain("from: “31/02/2025” is not a date: February 2025 has 28 days");
    expect(err).toContain("did you mean from?");
  });
});

describe("orisma explain", () => {
  test("shows what was requested, the interval in both clocks, and the statements", async () => {
    const { code, out } = await orisma(["explain", "works-raised", "--from", "2025-07"]);
    expect(code).toBe(0);
    expect(out).toContain("from 2025-07-01T00:00:00 in Europe/London");
    expect(out).toContain("from 2025-06-30T23:00:00Z");
    expect(out).toContain("`c2` >= ?");
    expect(out).toContain('values: [3,3,3,"2025-07-01",4]');
  });
});

describe("orisma listings check", () => {
  test("says what is wrong with every file, whatever is wrong with those before", async () => {
    const file = (name: string, text: string) => {
      const path = join(scratch, `${name}.yaml`);
      writeFileSync(path, text);
      return path;
    };
    const files = [
      file("unread", "name: [\n"),
      file("nameless", "source: works\n"),
      file("lost", "name: lost\nsource: no-such\nmainDate: raised\n"),
      join(scratch, "no-such.yaml"),
      file("taken", "name: WORKS-RAISED\nsource: works\nmainDate: raised\n"),
      file("wrong", "name: wrong\nsource: works\nmainDate: rased\n"),
    ];
    const { code, err } = await orisma(["listings", "check", ...files]);
    expect(code).toBe(2);
    for (const each of files) expect(err).toContain(each);
    expect(
      (
        await orisma([
          "listings",
          "check",
          file("fine", "name: fine\nsource: works\nmainDate: raised\n"),
        ])
      ).code,
    ).toBe(0);
  });
});

describe("acts that would break listings", () => {
  test("name the listings before and do nothing, unless they are forced", async () => {
    const file = join(scratch, "laid.csv");
    writeFileSync(file, "boat,laid\nHeron,2025-03-01\n");
    await orisma(["import", file, "--date", "laid"]);
    const declared = join(scratch, "laid.yaml");
    writeFileSync(
      declared,
      "name: laid-up\nsource: laid\nmainDate: laid\ncolumns: [boat, laid]\nparameters: []\n",
    );
    await orisma(["listings", "declare", declared]);
    const reader = ["sources", "reading", "laid", "--text", "laid"];
    expect((await orisma([...reader, "--dry-run"])).out).toMatch(
      /no longer be served:\n {2}laid-up: /,
    );
    const refused = await orisma(reader);
    expect([refused.code, refused.err]).toEqual([
      1,
      expect.stringMatching(/laid-up would be broken: .*\n.*--force/),
    ]);
    expect((await orisma(["records", "laid-up"])).code).toBe(0);
    expect((await orisma([...reader, "--force"])).code).toBe(0);
    expect((await orisma(["records", "laid-up"])).err).toContain("no longer fits its source");
    expect((await orisma(["listings"])).out).toContain("laid-up (broken: column “laid” holds text");
    writeFileSync(file, "hull,laid\nHeron,2025-03-01\n");
    await orisma(["sources", "reading", "laid", "--date", "laid"]);
    expect((await orisma(["import", file, "--replace"])).err).toContain("laid-up");
    expect((await orisma(["import", file, "--replace", "--force"])).code).toBe(0);
    expect((await orisma(["sources", "revert", "laid"])).code).toBe(0);
    expect((await orisma(["sources", "revert", "laid"])).err).toContain("laid-up");
    expect((await orisma(["listings", "delete", "laid-up"])).code).toBe(0);
    expect((await orisma(["sources", "delete", "laid"])).code).toBe(0);
  });
});

describe("orisma why", () => {
  test("says why there are no records, as the table of records itself does", async () => {
    const { code, out } = await orisma(["why", "works-raised", "--from", "2031"]);
    expect(code).toBe(0);
    const reason = "the last date of raised is";
    expect(out).toContain(reason);
    expect((await orisma(["records", "works-raised", "--from", "2031"])).out).toContain(reason);
    expect((await orisma(["records", "works-raised", "--from", "2025"])).out).not.toContain(reason);
  });

  test("says which condition excludes a record, and what it has there", async () => {
    const requested = ["why", "works-raised", "--from", "2025-02-28", "--to", "2025-02-28"];
    const out = (await orisma([...requested, "--record", "W-06"])).out;
    expect(out).toMatch(/W-06 is out\n {2}leaves it out: .*\(raised is 2025-03-01\)/);
    expect((await orisma([...requested, "--record", "W-05"])).out).toContain("W-05 is in");
    expect((await orisma([...requested, "--record", "W-99"])).code).toBe(1);
  });
});

describe("orisma window", () => {
  const alone = () => ({ ORISMA_STATE: join(scratch, "nowhere") });
  const ASKED = ["--as-of", "2024-05-15T13:30:05Z", "--zone", "Europe/London"];

  test("shows what a window covers, with no service running", async () => {
    const { code, out } = await orisma(["window", "month-1", ...ASKED], alone());
    expect(code).toBe(0);
    expect(out).toContain("1–30 April 2024, Europe/London");
    expect(out).toContain("It next changes at 2024-05-31T23:00:00Z.");
    expect(out).toMatch(
      /^2024-04-01T00:00:00 +2024-05-01T00:00:00 +2024-03-31T23:00:00Z +2024-04-30T23:00:00Z$/m,
    );
    const json = await orisma(["window", "month-1", ...ASKED, "--json"], alone());
    expect(JSON.parse(json.out)).toMatchObject({
      canonical: "month-1",
      asOf: "2024-05-15T13:30:05Z",
    });
  });

  test("takes phrases as people write them, and lists the meanings of one that has several", async () => {
    const past = await orisma(["window", "last", "3", "months", ...ASKED], alone());
    expect(past.code).toBe(0);
    expect(past.out).toContain("month-3/month-1, as of");
    expect(past.out).toContain("1 February – 30 April 2024, Europe/London");
    const several = await orisma(["window", "3/4/2025", ...ASKED], alone());
    expect(several.code).toBe(2);
    expect(several.err).toContain(
      "can mean 2025-04-03 (on 3 April 2025) or 2025-03-04 (on 4 March 2025)",
    );
    const wrong = await orisma(["window", "Friday 3 April 2025", ...ASKED], alone());
    expect(wrong.err).toContain(
      "3 April 2025 is a Thursday, not a Friday\n  did you mean 2025-04-03?",
    );
    const word = await orisma(["window", "lats", "month", ...ASKED], alone());
    expect(word.err).toContain("did you mean last month?");
  });

  test("reports every form of the notation, with examples as they are on a day", async () => {
    const { out } = await orisma(["window", "--as-of", "2024-05-15T12:00:00Z"], alone());
    expect(out).toContain("month-1, quarter+2: so many units back, or on");
    expect(out).toMatch(/month-1 +1–30 April 2024, UTC/);
  });

  test("shows its bounds for every day of a year, with gaps and overlaps", async () => {
    const words = ["window", "workday", "--year", "2024", "--zone", "Europe/London"];
    const { out } = await orisma([...words, "--holiday", "2024-01-01"], alone());
    expect(out).toMatch(/^2024-01-01 +empty .*2024-01-01 is not a working day/m);
    expect(out).toMatch(/^2024-01-06 to 2024-01-07 +empty /m);
    expect(out).toContain("366 days, each at noon");
    const weeks = await orisma(["window", "day-7/today", "--year", "2024"], alone());
    expect(weeks.out).toMatch(/^2024-03-01 +2024-02-23T00:00:00 +2024-03-02T00:00:00 +overlap/m);
  });

  test("refuses what it cannot read, and ends with 2", async () => {
    const found = await orisma(["window", "2024-01/monht"], alone());
    expect([found.code, found.out]).toEqual([2, ""]);
    expect(found.err).toContain("at 9: “monht” is not a unit; did you mean month?");
    const dated = ["window", "today", "--as-of", "2024-05-15", "--zone", "Europe/London"];
    expect((await orisma(dated, alone())).out).toContain("on 15 May 2024");
    expect((await orisma(["window", "today", "--as-of", "soon"], alone())).code).toBe(2);
    const fiscal = [
      "window",
      "fiscalyear",
      "--as-of",
      "2024-05-15",
      "--fiscal-year-start",
      "04-06",
    ];
    expect((await orisma(fiscal, alone())).out).toContain("6 April 2024 – 5 April 2025");
    expect((await orisma(["window", "today", "--zone", "Mars/Olympus"], alone())).code).toBe(2);
    expect((await orisma(["window", "today", "--year", "24"], alone())).code).toBe(2);
  });
});

describe("orisma translate", () => {
  const WORKS = ["--table", "works", "--date", "due=dd/MM/yyyy", "--text", "status"];
  const ASKED = ["--as-of", "2026-11-25T09:00:00Z"];

  test("writes SQL and values with no service running", async () => {
    const filter = "inWindow(due, 'today/P2D') AND status = 'planned'";
    const { code, out } = await orisma(["translate", filter, ...WORKS, ...ASKED], {
      ORISMA_STATE: join(scratch, "nowhere"),
    });
    expect(code).toBe(0);
    expect(out).toContain("`due` IN (?, ?)");
    expect(out).toContain('["25/11/2026","26/11/2026","planned","planned"]');
    expect(out).not.toContain("27/11/2026");
    expect(out).toContain("ADD COLUMN `due_key` CHAR(8)");
  });

  test("for the database that is named, and as the service answers", async () => {
    const words = ["translate", "due IS NULL", "--table", "t", "--date", "due", "--json"];
    const postgresql = await orisma([...words, "--for", "postgresql"]);
    expect(JSON.parse(postgresql.out)).toMatchObject({
      database: "postgresql",
      where: { text: '"due" IS NULL', values: [] },
    });
    const sqlite = await orisma([...words, "--for", "sqlite"]);
    expect(JSON.parse(sqlite.out)).toMatchObject({ database: "sqlite" });
  });

  test("what cannot be written is used wrongly, and reported why", async () => {
    const unknown = await orisma(["translate", "dew > DATE('2025-01-01')", ...WORKS]);
    expect(unknown.code).toBe(2);
    expect(unknown.err).toContain("due");
    expect(unknown.err).toContain("--local dew (with times)");
    expect((await orisma(["translate", "TRUE", ...WORKS, "--for", "paper"])).code).toBe(2);
  });
});

describe("orisma databases, attach and stack", () => {
  test("a place that the operator does not list is refused, and none is attached", async () => {
    const password = join(scratch, "password");
    writeFileSync(password, "quay\n");
    const place = ["--host", "127.0.0.1", "--port", "3307", "--database", "levels"];
    const account = ["--user", "reader", "--password-file", password];
    const refused = await orisma(["databases", "add", "levels", ...place, ...account]);
    expect(refused.code).toBe(2);
    expect(refused.err).toContain("ORISMA_ATTACHABLE");
    expect((await orisma(["databases", "--json"])).out).toBe("[]\n");
    const missing = ["--user", "reader", "--password-file", join(scratch, "none")];
    expect((await orisma(["databases", "add", "x", ...place, ...missing])).code).toBe(2);
  });

  test("an unknown database is reported with what there is", async () => {
    const { code, err } = await orisma(["sources", "attach", "readings", "--database", "levels"]);
    expect([code, err.includes("levels")]).toEqual([1, true]);
  });

  test("sources are combined, and their differences reported", async () => {
    const csv = join(scratch, "more-works.csv");
    writeFileSync(csv, "order,raised,note\nM-1,03/02/2025,from elsewhere\n");
    const options = ["--key", "order", "--date", "raised=dd/MM/yyyy"];
    expect((await orisma(["import", csv, "--name", "more-works", ...options])).code).toBe(0);
    const { code, out } = await orisma(["sources", "combine", "all-works", "works", "more-works"]);
    expect(code).toBe(0);
    expect(out).toContain("all-works is works and more-works, without what is not alike:");
    expect(out).toContain("more-works has no cost");
    const { out: listed } = await orisma(["sources", "show", "all-works"]);
    expect(listed).toContain("more-works has no cost");
    expect((await orisma(["sources"])).out).toMatch(/^all-works +4 .*works and more-works$/m);
    for (const name of ["all-works", "more-works"]) {
      expect((await orisma(["sources", "delete", name])).code).toBe(0);
    }
  });
});

describe("orisma compare", () => {
  test("shows which records were removed and which added", async () => {
    const words = ["compare", "works-raised", "--before", "from=2025-02-01"];
    const { out } = await orisma([...words, "--after", "to=2025-02-01"]);
    expect(out).toContain("Before: Works raised: raised from 1 February 2025");
    expect(out).toMatch(/4 records removed:\n\n.*\n.*\nW-03 (?:.*\n)*W-06/);
    expect(out).toMatch(/1 record added:\n\n.*\n.*\nW-01 /);
    const none = await orisma([...words, "--after", "from=2025-02-01"]);
    expect(none.out).toContain("No record removed.\nNo record added.");
    expect((await orisma(["compare", "works-raised", "--size", "0"])).code).toBe(2);
  });
});

describe("orisma windows, ladders and holidays", () => {
  const DAYS_OFF = [
    "BEGIN:VCALENDAR",
    "BEGIN:VEVENT",
    "DTSTART;VALUE=DATE:20250217",
    "SUMMARY:Lantern day",
    "END:VEVENT",
    "BEGIN:VEVENT",
    "DTSTART:20250218T190000Z",
    "SUMMARY:An evening",
    "END:VEVENT",
    "END:VCALENDAR",
  ].join("\r\n");

  test("list windows by name with their dates, and name others", async () => {
    const requested = ["--as-of", "2025-02-10T09:00:00Z", "--zone", "Europe/London"];
    const season = ["windows", "declare", "season", "year;BYMONTH=9..11", "--label", "the season"];
    expect((await orisma(season)).out).toBe("season is year;BYMONTH=9..11\n");
    const { out } = await orisma(["windows", "list", ...requested]);
    expect(out).toMatch(/^last-month +last month +month-1 +1–31 January 2025/m);
    expect(out).toMatch(/^season +the season +year;BYMONTH=9..11 +1 September /m);
    expect((await orisma(["windows", "delete", "season"])).out).toBe("season was deleted\n");
    expect((await orisma(["windows"])).out).not.toContain("season");
    expect((await orisma(["windows", "declare", "x", "monht", "--label", "x"])).err).toContain(
      "month",
    );
  });

  test("declare ladders that tile, and refuse others with the day on which they do not", async () => {
    const rungs = ["--rung", "overdue", "--rung", "today", "--rung", "later=tomorrow/.."];
    expect((await orisma(["ladders", "declare", "due", ...rungs])).out).toBe(
      "due has no gaps or overlaps: overdue, today, later\n",
    );
    expect((await orisma(["ladders", "--csv"])).out).toMatch(
      /^due,later,later,tomorrow\/..,from /m,
    );
    const gap = await orisma(["ladders", "declare", "gap", "--rung", "today", "--rung", "b=day+2"]);
    expect([gap.code, gap.err]).toEqual([2, expect.stringContaining("there is a gap")]);
    expect((await orisma(["ladders", "declare", "one", "--rung", "today"])).code).toBe(2);
    expect((await orisma(["ladders", "delete", "due"])).out).toBe("due was deleted\n");
  });

  test("take an iCalendar file as days off, and report what is no whole day", async () => {
    writeFileSync(join(scratch, "days-off.ics"), DAYS_OFF);
    const { out, err } = await orisma(["holidays", "import", "trust", "days-off.ics"]);
    expect(out).toBe("trust: 1 holiday, 2025-02-17 to 2025-02-17\n");
    expect(err).toContain("An evening");
    expect((await orisma(["holidays", "show", "trust"])).out).toMatch(/^2025-02-17 +Lantern day$/m);
    expect((await orisma(["holidays"])).out).toMatch(/^trust +1 +2025-02-17 /m);
    expect((await orisma(["holidays", "delete", "trust"])).code).toBe(0);
    expect((await orisma(["holidays", "import", "trust", "nowhere.ics"])).code).toBe(2);
  });

  test("a listing reports which windows go with which columns", async () => {
    const { out } = await orisma(["listings", "windows", "works-raised"]);
    expect(out).toMatch(/^a day or unit around today +month-1 +from: raised from, to: raised to$/m);
    expect(out).toMatch(/^days that recur .* no parameter takes it$/m);
  });
});

describe("orisma read", () => {
  test("shows what values are under a reading, with no service running", async () => {
    const alone = { ORISMA_STATE: join(scratch, "nowhere") };
    const words = [
      "read",
      "31/02/2025",
      "05/03/2025",
      "n/a",
      "--pattern",
      "dd/MM/yyyy",
      "--blank",
      "N/A",
    ];
    const { code, out } = await orisma(words, alone);
    expect(code).toBe(0);
    expect(out).toMatch(
      /^31\/02\/2025 +unreadable +“31\/02\/2025” is not a date: February 2025 has 28 days$/m,
    );
    expect(out).toMatch(/^05\/03\/2025 +dated +2025-03-05 +5 March 2025$/m);
    expect(out).toMatch(/^n\/a +blank$/m);
  });

  test("prints just what the service answers", async () => {
    const { out } = await orisma([
      "read",
      "45292.75",
      "x",
      "--encoding",
      "serial-1900",
      "--kind",
      "local",
      "--json",
    ]);
    const reading = { kind: "local", encoding: "serial-1900" } as const;
    expect(JSON.parse(out)).toEqual({
      results: await running.client.readDates(["45292.75", "x"], reading),
    });
  });

  test("refuses a reading with a fault", async () => {
    const { code, err } = await orisma(["read", "x", "--pattern", "dd/MM", "--locale", "xx"]);
    expect([code, err]).toEqual([
      2,
      expect.stringContaining("the locale “xx” has no names of months and days here"),
    ]);
    expect((await orisma(["read", "x", "--encoding", "serial"])).code).toBe(2);
  });
});

describe("orisma sources profile", () => {
  test("shows each column with its evidence, and the cells that could not be read", async () => {
    const { code, out } = await orisma(["sources", "profile", "works"]);
    expect(code).toBe(0);
    expect(out).toMatch(/^raised +date +9 +3 +certain +dd\/MM\/yyyy +2025-01-31 +2025-03-01$/m);
    expect(out).toContain(
      "raised: 6 cells fit dd/MM/yyyy; under MM/dd/yyyy 2 of them would be other dates, 4 can only be dd/MM/yyyy; 1 does not fit",
    );
    expect(out).toContain("  record W-10 has “31/02/2025”, unreadable");
    expect((await orisma(["sources", "profile", "wroks"])).err).toContain("did you mean works?");
  });
});

describe("orisma import", () => {
  const file = join(scratch, "closures.csv");
  const flags = [
    "--key",
    "order",
    "--date",
    "raised=dd/MM/yyyy",
    "--instant",
    "passed",
    "--blank",
    "N/A",
    "--blank",
    "tbc",
    "--integer",
    "cost",
  ];

  test("declares a source, takes the file, and reports each unreadable cell by line", async () => {
    writeFileSync(file, SMALL_CSV);
    const { code, out } = await orisma(["import", file, ...flags]);
    expect(code).toBe(0);
    expect(out).toContain("closures: 10 records\n");
    expect(out).toMatch(/^raised +6 +3 +1$/m);
    expect(out).toContain("line 11, raised: “31/02/2025” is not a date: February 2025 has 28 days");
  });

  test("does not take a file over records that are there, by default", async () => {
    const again = await orisma(["import", file, ...flags]);
    expect(again.code).toBe(2);
    expect(again.err).toContain("--replace");
    expect((await orisma(["import", file, "--replace"])).code).toBe(0);
  });

  test("can be tried again after a file that was refused", async () => {
    writeFileSync(file, "order,raised\n,\n");
    const failed = await orisma(["import", file, "--name", "retried", "--key", "order"]);
    expect([failed.code, failed.err]).toEqual([
      2,
      "orisma: no row of the file can be imported; line 2: it has no order, which is the key\n",
    ]);
    writeFileSync(file, "order,raised\nW-1,\n");
    expect((await orisma(["import", file, "--name", "retried", "--key", "order"])).code).toBe(0);
    expect((await orisma(["import", join(scratch, "nothing.csv")])).code).toBe(2);
  });

  test("takes several files as one source, and says which are in where one is refused", async () => {
    const files = ["tolls-01.csv", "tolls-02.csv", "tolls-03.csv"].map((each) =>
      join(scratch, each),
    );
    const [january = "", february = "", march = ""] = files;
    writeFileSync(january, "toll,paid\nT-1,2025-01-31\n");
    writeFileSync(february, "toll,paid\nT-2,2025-02-01\nT-3,2025-02-28\n");
    writeFileSync(march, "toll,paid\nT-4,2025-03-01\n");
    const looked = await orisma(["import", ...files, "--dry-run", "--json"]);
    expect(JSON.parse(looked.out)).toMatchObject([{ records: 1 }, { records: 2 }, { records: 1 }]);
    const all = ["import", ...files, "--name", "tolls", "--key", "toll"];
    const { code, out } = await orisma(all);
    expect([code, out]).toEqual([0, expect.stringContaining(february)]);
    expect((await running.client.source("tolls")).records).toBe(4);
    // The first file replaces what was there; the others are added to it.
    writeFileSync(march, "toll,paid\nT-1,2025-03-01\n");
    const refused = await orisma([...all, "--replace", "--again"]);
    expect(refused.code).not.toBe(0);
    expect(refused.err).toContain(
      `${january}, ${february} are imported; ${march} is not: import the rest with --name tolls --append`,
    );
    expect((await running.client.source("tolls")).records).toBe(3);
    expect((await orisma(["import", january, join(scratch, "none.csv"), "--name", "x"])).code).toBe(
      2,
    );
    expect((await running.client.sources()).map(({ name }) => name)).not.toContain("x");
    expect((await orisma(["import", "-", "-", "--name", "x"])).err).toContain("give - once");
    await running.client.deleteSource("tolls");
  });

  test("looks at a file, takes some of its columns, reports what was refused and what it could be", async () => {
    const file = join(scratch, "boats.txt");
    writeFileSync(file, "boat;seen;length\nTern;21/02/2025;7,5\nHeron;29/02/2025;9\nSwift\n");
    const looked = await orisma(["import", file, "--dry-run"]);
    expect(looked.out).toContain(
      "delimited by semicolon, utf-8, 62 bytes, headings on line 1, 3 records, 1 of them would be refused",
    );
    expect(looked.out).toMatch(/^ +3 +Heron +29\/02\/2025 +9$/m);
    const words = ["import", file, "--key", "boat", "--only", "boat", "--only", "seen"];
    const { code, out, err } = await orisma(words);
    expect(code).toBe(0);
    expect(out).toContain(
      "  headings, line 1: boat, seen\n  1 row was refused; orisma sources imports boats --refused 1",
    );
    expect(err).toContain("seen is written as dd/MM/yyyy, but for 1 cell");
    expect((await orisma(["sources", "imports", "boats"])).out).toMatch(
      /^ +1 +replace +done +boats\.txt +2 +1 .* in use$/m,
    );
    expect((await orisma(["sources", "imports", "boats", "--refused", "1"])).out).toMatch(
      /^ +4 +1 cell where there are 3 headings +Swift$/m,
    );
    const refused = await orisma(["sources", "imports", "boats", "--refused", "1", "--csv"]);
    expect(refused.out).toContain("refused_line,refused_because,boat,seen\n");
    expect((await orisma(["import", file, "--replace", "--only", "boat"])).out).toContain(
      "nothing was done, since this file was imported last",
    );
    expect((await orisma(["import", file, "--replace", "--append"])).code).toBe(2);
    expect((await orisma(["import", file, "--dry-run", "--skip", "x"])).code).toBe(2);
  });

  test("sets what is certain, after showing it, and repairs a cell", async () => {
    const preview = await orisma(["sources", "reading", "boats", "--certain", "--dry-run"]);
    expect(preview.out).toMatch(/^seen +1 +0 +1 +2025-02-21 +2025-02-21$/m);
    expect(preview.out).toContain("seen: “29/02/2025” in 1 cell\n\nNothing was stored.");
    const read = await orisma(["sources", "reading", "boats", "--certain"]);
    expect(read.out).toContain("record Heron, seen: “29/02/2025” is not a date");
    expect((await orisma(["sources", "reading", "boats", "--certain"])).code).toBe(2);
    const repaired = await orisma(["sources", "repair", "boats", "Heron", "seen", "28/02/2025"]);
    expect(repaired.out).toBe("seen of Heron: “29/02/2025” became “28/02/2025”, dated\n");
    expect((await orisma(["sources", "profile", "boats"])).out).toContain("2025-02-21");
    const inspected = await orisma(["sources", "cells", "boats", "Heron"]);
    expect(inspected.out).toMatch(/^seen +28\/02\/2025 +date, dd\/MM\/yyyy +28 February 2025$/m);
    expect((await orisma(["sources", "cells", "boats", "Swan"])).err).toContain(
      "has no record Swan",
    );
  });

  test("puts records beside and over those that are there, and goes back", async () => {
    const file = join(scratch, "more.csv");
    writeFileSync(file, "boat,seen\nTern,03/02/2025\nGrebe,04/02/2025\n");
    const updated = await orisma(["import", file, "--name", "boats", "--update"]);
    expect(updated.out).toContain("boats: 3 records, 1 new, 1 changed\n");
    expect((await orisma(["sources", "revert", "boats"])).out).toContain("boats: 2 records\n");
    expect((await orisma(["sources", "watch", "boats", "boats.csv"])).err).toContain(
      "ORISMA_INBOX",
    );
    const address = "https://files.brindle.example/boats.csv";
    const refused = await orisma(["sources", "watch", "boats", address]);
    expect([refused.code, refused.err]).toEqual([
      1,
      "orisma: Nothing is fetched from files.brindle.example:443: the operator allows no place (ORISMA_FETCHABLE)\n",
    ]);
    expect((await orisma(["sources", "watch", "boats"])).out).toBe(
      "Nothing is watched for boats.\n",
    );
    expect((await orisma(["sources", "watch", "boats", "--now"])).err).toContain(
      "No file of boats is watched",
    );
    expect((await orisma(["sources", "imports", "boats", "--cancel"])).code).toBe(1);
    await orisma(["sources", "delete", "boats"]);
  });

  test("a file that is refused leaves no source behind, and keeps one that was there", async () => {
    const names = async () => {
      const answer = JSON.parse((await orisma(["sources", "--json"])).out) as { name: string }[];
      return answer.map(({ name }) => name);
    };
    const before = await names();
    const file = join(scratch, "refused.csv");
    for (const [text, ...options] of [
      ["boat,boat\nHeron,1\n"],
      [""],
      ["%PDF-1.7 no table"],
      ["boat,seen\nHeron,1\n", "--key", "hull"],
      ["boat,seen\nHeron,1\n", "--date", "sean"],
    ] as const) {
      writeFileSync(file, text);
      const { code, err } = await orisma(["import", file, ...options]);
      expect([code === 0, err === ""]).toEqual([false, false]);
    }
    expect(await names()).toEqual(before);
    writeFileSync(file, "boat,seen\nHeron,1\n");
    expect((await orisma(["import", file])).code).toBe(0);
    writeFileSync(file, "boat,boat\nHeron,1\n");
    expect((await orisma(["import", file, "--replace"])).code).not.toBe(0);
    expect(await names()).toEqual([...before, "refused"].sort());
    await orisma(["sources", "delete", "refused"]);
  });

  test("an import of which no date could be read does not pass for one that went well", async () => {
    const file = join(scratch, "dated.csv");
    writeFileSync(file, "boat,seen\nHeron,28/02/2025\nOtter,01/03/2025\n");
    const wrong = await orisma(["import", file, "--date", "seen=MM/dd/yyyy"]);
    expect([wrong.code, wrong.out]).toEqual([0, expect.stringMatching(/^seen +1 +0 +1$/m)]);
    const none = await orisma([
      "import",
      file,
      "--replace",
      "--again",
      "--name",
      "dated-2",
      "--date",
      "seen=yyyy-MM-dd",
    ]);
    expect(none.code).toBe(1);
    expect(none.out).toContain("dated-2: 2 records");
    expect(none.err).toContain("no cell of seen could be read as a date");
    const again = await orisma(["sources", "reading", "dated-2", "--date", "seen=dd/MM/yyyy"]);
    expect(again.code).toBe(0);
    expect(
      (await orisma(["sources", "reading", "dated-2", "--date", "seen=MM-dd-yyyy"])).code,
    ).toBe(1);
    for (const name of ["dated", "dated-2"]) await orisma(["sources", "delete", name]);
  });

  test("says what was taken as headings, and doubts those that look like a record", async () => {
    const file = join(scratch, "bare.csv");
    writeFileSync(file, "2025-01-31,Heron\n2025-02-28,Otter\n");
    const { code, out } = await orisma(["import", file]);
    expect(code).toBe(0);
    expect(out).toContain("  headings, line 1: 2025-01-31, Heron\n");
    expect(out).toContain("may be a record: “2025-01-31” stands over “2025-02-28”");
    const answer = await orisma(["import", file, "--replace", "--again", "--headings", "0"]);
    expect(answer.out).toContain("bare: 2 records");
    expect(answer.out).not.toContain("may be a record");
    await orisma(["sources", "delete", "bare"]);
  });

  test("columns can be confirmed afterwards, without taking the file again", async () => {
    const read = await orisma(["sources", "reading", "retried", "--date", "raised=dd/MM/yyyy"]);
    expect([read.code, read.out]).toEqual([0, expect.stringMatching(/^raised +0 +1 +0$/m)]);
    expect((await orisma(["sources", "show", "retried"])).out).toMatch(
      /^raised +date +dd\/MM\/yyyy/m,
    );
    expect((await orisma(["sources", "reading", "retried", "--date", "rased"])).err).toContain(
      "did you mean raised?",
    );
    expect((await orisma(["sources", "reading", "retried"])).code).toBe(2);
  });

  test("its source and listings are shown, declared and ended", async () => {
    expect((await orisma(["sources"])).out).toMatch(/^closures +10 +5 +order/m);
    expect((await orisma(["sources", "show", "closures"])).out).toMatch(
      /^raised +date +dd\/MM\/yyyy +N\/A, tbc$/m,
    );
    expect((await orisma(["sources", "--csv"])).out).toMatch(/^closures,10,5,order,2/m);
    expect((await orisma(["listings", "--csv"])).out).toContain('works,raised,"from, to",');
    expect(JSON.parse((await orisma(["sources", "--json"])).out)).toHaveLength(3);
    expect((await orisma(["sources", "--json", "--csv"])).code).toBe(2);
    const declaration = join(scratch, "closed.json");
    writeFileSync(
      declaration,
      JSON.stringify({ ...LISTINGS["works-raised"], name: "closed", source: "closures" }),
    );
    expect((await orisma(["listings", "declare", declaration])).out).toBe(
      "closed: version 1 is serving\n",
    );
    expect((await orisma(["listings"])).out).toMatch(
      /^closed +Works raised +closures +raised +from, to/m,
    );
    expect((await orisma(["records", "closed", "--from", "2025-03"])).out).toContain("W-06");
    expect((await orisma(["sources", "delete", "closures"])).code).toBe(1);
    expect((await orisma(["listings", "delete", "closed"])).code).toBe(0);
    expect((await orisma(["sources", "delete", "closures"])).code).toBe(0);
    writeFileSync(declaration, "{");
    expect((await orisma(["listings", "declare", declaration])).code).toBe(2);
  });
});

describe("orisma listings", () => {
  const file = join(scratch, "raised.yaml");
  const GOOD = `# The works of the trust
name: raised
source: works
mainDate: raised
parameters:
  - { name: from, type: date, column: raised, comparison: from }
  - name: cost
    type: range
    column: cost
    comparison: within
order:
  allowed: [raised, cost]
`;

  test("checks a file, and reports each fault with its line and column", async () => {
    writeFileSync(file, GOOD);
    expect((await orisma(["listings", "check", file])).out).toBe("1 checked, nothing wrong\n");
    const bad = GOOD.replace("column: raised,", "column: rased,")
      .replace("comparison: within", "comparison: between")
      .replace("[raised, cost]", "[raised, csot]");
    writeFileSync(file, bad);
    const form = await orisma(["listings", "check", file]);
    // What is no word of a declaration at all is reported first.
    expect([form.code, form.err]).toEqual([
      2,
      expect.stringContaining(`${file}:10:5: parameters.1.comparison`),
    ]);
    writeFileSync(file, bad.replace("comparison: between", "comparison: is"));
    const { err } = await orisma(["listings", "check", file]);
    const places = err
      .split("\n")
      .flatMap((line) => /yaml:(\d+:\d+): (\S+):/.exec(line)?.slice(1) ?? []);
    expect(places).toEqual([
      "6:31",
      "parameters.0.column",
      "10:5",
      "parameters.1.comparison",
      "12:21",
      "order.allowed.1",
    ]);
    expect(err).toContain("did you mean raised?");
    writeFileSync(file, "name: [raised\nsource: works\n");
    expect((await orisma(["listings", "check", file])).err).toMatch(/raised\.yaml:\d+:\d+: /);
  });

  test("shows what a file would change, applies it, and prints it as a file again", async () => {
    writeFileSync(file, GOOD);
    expect((await orisma(["listings", "changes", file])).out).toBe("raised is new\n");
    expect((await orisma(["listings", "declare", file])).out).toContain("version 1 is serving");
    expect((await orisma(["listings", "declare", file])).out).toContain("version 1 is serving");
    const changed = `${GOOD}fixedFilter: cost >= 500\n`.replace(
      "comparison: from }",
      "comparison: after }",
    );
    writeFileSync(file, changed);
    const { out } = await orisma(["listings", "changes", file]);
    expect(out).toContain("only: cost at least 500\n");
    expect(out).toContain("parameters.from.comparison: “from” becomes “after”\n");
    expect(out).toMatch(/0 records added, [1-9]\d* removed on today's data/);
    const { out: shown } = await orisma(["listings", "show", "raised"]);
    writeFileSync(file, shown);
    expect((await orisma(["listings", "changes", file])).out).toBe(
      "raised says the same already\n",
    );
    // A broken one leaves the good one serving.
    writeFileSync(file, changed.replace("column: raised,", "column: rased,"));
    const applied = await orisma(["listings", "declare", file]);
    expect([applied.code, applied.err]).toEqual([2, expect.stringContaining("raised.yaml:6:31")]);
    expect((await orisma(["records", "raised", "--csv"])).code).toBe(0);
    await orisma(["listings", "delete", "raised"]);
  });
});

describe("orisma listings expect", () => {
  test("says exact match, or names what is missing and what was not expected", async () => {
    const { out } = await orisma(["records", "works-raised", ...FEBRUARY, "--json", "--all"]);
    const ids = (JSON.parse(out) as RecordsAnswer).records.map(({ id }) => String(id));
    expect(ids.length).toBeGreaterThan(1);
    const file = join(scratch, "expected.txt");
    writeFileSync(file, `${ids.join("\n")}\n`);
    const expectIt = (...words: string[]) =>
      orisma(["listings", "expect", "works-raised", ...FEBRUARY, ...words]);
    const right = await expectIt("--ids", file, "--count", String(ids.length));
    expect([right.code, right.out]).toEqual([0, `exact match: ${ids.length} records\n`]);
    writeFileSync(file, `${ids.slice(1).join("\n")}\nW-99\n`);
    const wrong = await expectIt("--ids", file);
    expect([wrong.code, wrong.out]).toEqual([
      1,
      `missing: 1\n  W-99\nunexpected: 1\n  ${ids[0]}\n`,
    ]);
    const counted = await expectIt("--count", "0");
    expect([counted.code, counted.out]).toEqual([1, `${ids.length} records, not 0\n`]);
    expect((await expectIt()).code).toBe(2);
  });
});

describe("dates as people write them", () => {
  const day = (number: number) => `${number} Feb 2025`;

  test("are those that the service reads, in every command that sends a request", async () => {
    const records = ["records", "works-raised", "--json"];
    const ids = async (...words: string[]) => {
      const { code, out } = await orisma([...records, ...words]);
      const { records: found } = JSON.parse(out) as { records: { order: string }[] };
      return [code, found.map(({ order }) => order).sort()];
    };
    // The day before and the day after are out; the first and the last are in.
    const all = ["W-02", "W-03", "W-04", "W-05"];
    const february = ["--from", day(1), "--to", "February 28th, 2025", "--size", "100"];
    expect(await ids(...february)).toEqual([0, all]);
    expect(await ids("--from", day(1), "--to", "2025-02-28", "--size", "100")).toEqual([0, all]);
    const parameters = ["works-raised", "--from", day(1), "--to", day(28)];
    for (const words of [
      ["choices", "works-raised", "order", ...parameters.slice(1), "--json"],
      ["extent", ...parameters, "--json"],
      ["timeline", ...parameters, "--json"],
      ["summary", ...parameters, "--by", "raised:month", "--json"],
      ["explain", ...parameters, "--json"],
      ["why", ...parameters, "--json"],
      ["listings", "expect", ...parameters, "--count", "4", "--json"],
    ]) {
      const written = words.map((word) =>
        word === day(1) ? "2025-02-01" : word === day(28) ? "2025-02-28" : word,
      );
      const [spoken, plain] = [await orisma(words), await orisma(written)];
      expect([words[0], spoken.code, plain.code]).toEqual([words[0], 0, 0]);
      const without = (text: string) => text.replace(/"(?:readAt|asOf|ms|etag)": [^\n]*/g, "");
      expect(without(spoken.out)).toBe(without(plain.out));
    }
  });

  test("with two meanings, and words that are misspelt, are refused: nothing is guessed", async () => {
    const refused = async (...words: string[]) => orisma(["records", "works-raised", ...words]);
    expect(await refused("--from", "3/2/2025")).toMatchObject({
      code: 2,
      out: "",
      err: expect.stringContaining("2025-02-03 if the day comes first, 2025-03-02 if"),
    });
    expect(await refused("--from", "monht-1")).toMatchObject({ code: 2, out: "" });
    expect(await refused("--from", "last 3 months")).toMatchObject({ code: 2, out: "" });
    expect(await refused("--from", day(1), "--to", "monht-1")).toMatchObject({ code: 2, out: "" });
  });
});

describe("what is requested around a listing", () => {
  test("is shown by choices, extent, timeline and summary", async () => {
    const choices = await orisma(["choices", "works-raised", "order", "--from", "2025"]);
    expect([choices.code, choices.out]).toEqual([0, expect.stringMatching(/^order +records/m)]);
    const extent = await orisma(["extent", "works-raised", "--json"]);
    expect(Object.keys((JSON.parse(extent.out) as { extent: object }).extent)).toContain("raised");
    const timeline = await orisma(["timeline", "works-raised", "--unit", "month", ...FEBRUARY]);
    expect(timeline.out).toMatch(/^2025-02 +[1-9]\d* +▪+$/m);
    const summary = await orisma(["summary", "works-raised", "--by", "raised:year", "--csv"]);
    expect(summary.out).toMatch(/^raised:year,records$/m);
    expect((await orisma(["summary", "works-raised", "--by", "rased:year"])).code).toBe(2);
  });
});

describe("the command line", () => {
  test.each([
    [["settle", "works", "--certain"], "orisma sources reading"],
    [["loads", "works"], "orisma sources imports"],
    [["listing", "show", "works"], "orisma listings"],
    [["listings", "apply", "works.yaml"], "orisma listings declare"],
    [["key", "list"], "orisma keys"],
    [["sources", "profil", "works"], "orisma sources profile"],
    [["sources", "works"], "orisma sources show works"],
  ])("%j is refused with what it is called", async (words, instead) => {
    const { code, err, out } = await orisma(words);
    expect([code, out]).toEqual([2, ""]);
    expect(err).toContain(instead);
  });

  test("has a version, and fails in JSON where JSON is requested", async () => {
    expect((await orisma(["--version"])).out).toMatch(/^\d+\.\d+\.\d+\n$/);
    const { code, err } = await orisma([
      "records",
      "works-raised",
      "--from",
      "2025-02-30",
      "--json",
    ]);
    expect(code).toBe(2);
    expect(JSON.parse(err)).toMatchObject({ status: 422, faults: [{ parameter: "from" }] });
    const { err: none } = await orisma(["sources", "works", "--json"]);
    expect(JSON.parse(none)).toMatchObject({ detail: expect.stringContaining("show works") });
  });

  test("has an example in the help of each command, within 100 columns and a screen", async () => {
    const names = (help: string) =>
      [...help.matchAll(/^ {2}([a-z]+)(?: .*)?$/gm)].flatMap(([, name = ""]) => name);
    const [whole] = await helpOf([[]]);
    const text = whole?.out ?? "";
    const groups = names(text.slice(0, text.indexOf("Examples:"))).map((name) => [name]);
    expect(groups.length).toBeGreaterThan(15);
    const found = await helpOf(groups);
    const commands = found.flatMap(({ words, out }) => {
      const at = out.indexOf("Commands:");
      return at < 0 ? [] : names(out.slice(at)).map((name) => [...words, name]);
    });
    expect(groups.length + commands.length).toBeGreaterThan(40);
    for (const { words, code, out } of [
      ...(whole === undefined ? [] : [whole]),
      ...found,
      ...(await helpOf(commands)),
    ]) {
      const lines = out.split("\n");
      const widest = Math.max(...lines.map((line) => line.length));
      expect([words, code, widest <= 100, lines.length <= 52]).toEqual([words, 0, true, true]);
      expect([words, out]).toEqual([words, expect.stringContaining("\nExamples:\n")]);
    }
  });
});

/** What commands print as their help, all of them in one process. */
async function helpOf(
  commands: readonly (readonly string[])[],
): Promise<readonly { words: readonly string[]; code: number; out: string }[]> {
  const script = `
    const { main } = await import(${JSON.stringify(join(ROOT, "packages/cli/dist/orisma.js"))});
    const write = process.stdout.write;
    const found = [];
    for (const words of ${JSON.stringify(commands)}) {
      let out = "";
      process.stdout.write = (piece) => (out += piece) !== "";
      const code = await main([...words, "--help"]);
      process.stdout.write = write;
      found.push({ words, code, out });
    }
    process.stdout.write(JSON.stringify(found));`;
  const out = await new Promise<string>((resolve, reject) => {
    const words = ["--input-type=module", "--eval", script];
    execFile(process.execPath, words, (failure, text) =>
      failure === null ? resolve(text) : reject(new Error(failure.message)),
    );
  });
  return JSON.parse(out) as { words: readonly string[]; code: number; out: string }[];
}

describe("orisma completion", () => {
  const words = async (...begun: string[]) =>
    (await orisma(["completion", "words", "--", ...begun])).out.trim().split("\n");

  test("prints a script for each shell, and refuses others", async () => {
    expect((await orisma(["completion", "bash"])).out).toContain("complete -o default -F _orisma");
    expect((await orisma(["completion", "zsh"])).out).toMatch(/^#compdef orisma/);
    expect((await orisma(["completion", "fish"])).out).toMatch(/^complete -c orisma/);
    expect((await orisma(["completion", "csh"])).code).toBe(2);
  });

  test("knows commands, those of a group, options, and the names that the service has", async () => {
    expect(await words("ex")).toEqual(["explain", "extent"]);
    expect(await words("listings", "rev")).toEqual(["revert"]);
    expect(await words("records", "works-raised", "--si")).toEqual(["--size"]);
    // Names that are late are left out, so that the shell does not wait for a slow service.
    const soon = (begun: readonly string[], word: string) =>
      until(async () => (await words(...begun)).join(" ") === word);
    await soon(["records", "works-ra"], "works-raised");
    await soon(["sources", "profile", "wo"], "works");
    await soon(["listings", "show", "works-ra"], "works-raised");
    expect(await words("settle")).toEqual([""]);
  });

  test("is silent without a service, and completes what it knows itself", async () => {
    const nowhere = { ORISMA_URL: "http://127.0.0.1:9", ORISMA_KEY: "none" };
    const { out, err, code } = await orisma(["completion", "words", "--", "records", ""], nowhere);
    expect([out, err, code]).toEqual(["", "", 0]);
  });

  test("in bash offers what it knows", async () => {
    const script = `orisma() { "${process.execPath}" "${join(ROOT, "packages/cli/bin/orisma.mjs")}" "$@"; }
      source <(orisma completion bash)
      COMP_WORDS=(orisma listings ch); COMP_CWORD=2; _orisma; echo "\${COMPREPLY[@]}"`;
    const out = await new Promise((resolve) => {
      const env = { PATH: process.env.PATH ?? "", ORISMA_STATE: running.state };
      execFile("bash", ["-c", script], { env }, (_failure, text) => resolve(text));
    });
    expect(out).toBe("check changes\n");
  });
});

describe("orisma listings new", () => {
  test("prints a declaration that can be declared as it is", async () => {
    const { out, code } = await orisma([
      "listings",
      "new",
      "works",
      "--main-date",
      "raised",
      "--name",
      "begun",
    ]);
    expect(code).toBe(0);
    const file = join(scratch, "begun.yaml");
    writeFileSync(file, out);
    expect((await orisma(["listings", "declare", file])).out).toContain(
      "begun: version 1 is serving",
    );
    const { parameters } = await running.client.listing("begun");
    expect(parameters.map(({ name }) => name)).toEqual(
      expect.arrayContaining(["from", "to", "cost"]),
    );
    const { meta } = await running.client.records("begun", {
      from: "2025-02-28",
      to: "2025-02-28",
    });
    expect(meta.total).toBeGreaterThan(0);
    await running.client.deleteListing("begun");
  });

  test("says which dates there are where several could be meant, or none is", async () => {
    expect(await orisma(["listings", "new", "works", "--main-date", "cost"])).toMatchObject({
      code: 2,
      err: expect.stringContaining("works has no date column cost; accepted: raised"),
    });
  });
});

describe("an import that is interrupted", () => {
  test("is cancelled, and the command says that the records are as they were", async () => {
    const rows = Array.from({ length: 300_000 }, (_, index) => `W-${index},${index}`).join("\n");
    const file = join(scratch, "interrupted.csv");
    writeFileSync(file, `order,cost\n${rows}\n`);
    const env = { PATH: process.env.PATH ?? "", ORISMA_STATE: running.state };
    const command = spawn(
      process.execPath,
      [join(ROOT, "packages/cli/bin/orisma.mjs"), "import", file, "--name", "interrupted"],
      { env, cwd: scratch },
    );
    let err = "";
    command.stderr.on("data", (piece: Buffer) => (err += piece.toString()));
    const ended = new Promise<number | null>((resolve) => command.on("exit", resolve));
    await until(async () => {
      const found = await running.client.imports("interrupted").catch(() => null);
      return found?.running?.stage === "reading" && found.running.records > 0;
    });
    command.kill("SIGINT");
    expect(await ended).toBe(1);
    expect(err).toContain("The import was cancelled; the records are as they were");
    const names = (await running.client.sources()).map(({ name }) => name);
    expect(names).not.toContain("interrupted");
  });
});

describe("orisma keys", () => {
  test("makes a key that works, lists it, and revokes it", async () => {
    const key = (
      await orisma([
        "keys",
        "create",
        "--name",
        "site",
        "--role",
        "reader",
        "--listing",
        "works-raised",
      ])
    ).out.trim();
    const reader = { ORISMA_URL: running.service.url, ORISMA_KEY: key };
    expect((await orisma(["records", "works-raised"], reader)).code).toBe(0);
    expect((await orisma(["records", "works-passed"], reader)).code).toBe(1);
    const line =
      (await orisma(["keys", "list"])).out.split("\n").find((each) => each.includes("site")) ?? "";
    expect((await orisma(["keys", "revoke", line.split(" ", 1)[0] ?? ""])).code).toBe(0);
    expect((await orisma(["records", "works-raised"], reader)).code).toBe(1);
    expect((await orisma(["keys", "code"])).out).toMatch(/^[A-Z2-9]{4}(-[A-Z2-9]{4}){3}\n$/);
  });
});

describe("orisma", () => {
  test.each([
    [["--help"], 0, "Usage: orisma"],
    [["records", "--help"], 0, "Examples:"],
    [[], 2, "Usage: orisma"],
    [["recrods"], 2, "Did you mean records?"],
    [["records"], 2, "missing required argument 'listing'"],
    [["records", "works-raised", "stray"], 2, "stray is not an option"],
    [["records", "works-raised", "--from"], 2, "--from needs a value"],
    [["records", "works-raised", "--json", "--csv"], 2, "cannot both be given"],
    [
      ["keys", "create", "--name", "x", "--role", "boss"],
      2,
      "A role is one of owner, author, reader",
    ],
  ])("%j ends with %i", async (words, code, text) => {
    const ran = await orisma(words);
    expect(ran.code).toBe(code);
    expect(ran.out + ran.err).toContain(text);
  });

  test("says plainly that no service is there", async () => {
    const alone = await orisma(["sources"], { ORISMA_STATE: scratch });
    expect([alone.code, alone.err]).toEqual([
      2,
      "orisma: no started service was found here; run npm start, or set ORISMA_URL and ORISMA_KEY\n",
    ]);
    const gone = await orisma(["sources"], { ORISMA_URL: "http://127.0.0.1:9" });
    expect([gone.code, gone.err]).toEqual([1, "orisma: no answer from http://127.0.0.1:9\n"]);
  });
});
