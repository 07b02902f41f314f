/**
 * `node scripts/record.mjs FILE`: sends 500 requests to the listings of the demo, on a day and at an
 * instant that never change, and writes one line of JSON an answer. Two files, from before and after a
 * change, are the same where the change has not touched what callers get: compare them with `diff`.
 * Times, ids, cursors, links and ETags are omitted, because no two services have the same.
 */
import { writeFileSync } from "node:fs";
import { URLSearchParams } from "node:url";
import { bootstrap } from "./bootstrap.mjs";
import { startScratchService } from "./scratch.mjs";

const [file] = process.argv.slice(2);
if (file === undefined) {
  process.stderr.write("Name the file to write: node scripts/record.mjs FILE\n");
  process.exit(2);
}
bootstrap(["database"]);
const { loadDemo } = await import("@orisma/demo");

const NOW = Date.UTC(2026, 4, 15, 12);
const REQUESTS = 500;

const DAYS = [
  ...[
    "2026-05",
    "2026-04-01",
    "2025",
    "2026-W18",
    "2025-Q4",
    "today",
    "yesterday",
    "month-1",
    "day-7",
  ],
  ...["week", "year-1", "month.1", "month-1.-1", "today+P1M", "now", "..", "", "null", "workday-5"],
  ...["fiscalyear", "2026-02-30", "05/06/2026", "monh-1", "2026-05-15T10:00", "3000", "month.32"],
];
const WINDOWS = [
  ...[
    "2026-04/2026-05",
    "month-1/now",
    "day-7/now",
    "P6W/now",
    "today/..",
    "../yesterday",
    "2026-05",
  ],
  ...[
    "2025-03|2026-03",
    "../..;BYMONTH=4..6;BYDAY=MO",
    "2020/2026;BYMONTHDAY=-1",
    "week;BYHOUR=9..16",
  ],
  ...[
    "2024/2026;BYDAY=SA,SU",
    "month.20/..",
    "month.20/month.10",
    "2026-06/2026-05",
    "..",
    "quarter",
  ],
  ...[
    "2026-03-29T01:30/2026-03-30",
    "P1D/P2D",
    "year;BYHOUR=30",
    "now",
    "fiscalquarter-1",
    "1800/9999",
  ],
];

/** Conditions on a column of dates, each for a name that stands for it. */
const CONDITIONS = [
  ...[
    "COL >= DATE('2026-05')",
    "COL < DATE('2026-04-01')",
    "COL = DATE('2026-W18')",
    "COL <> DATE('2025')",
  ],
  ...[
    "inWindow(COL, 'day-7/now')",
    "inWindow(COL, 'month-1')",
    "NOT inWindow(COL, '2026')",
    "COL IS NULL",
  ],
  ...[
    "COL BETWEEN DATE('2026-01') AND DATE('2026-03')",
    "month(COL) = 4",
    "weekday(COL) IN (6, 7)",
  ],
  ...["year(COL) = 2025", "inWindow(COL, '2025/2026;BYDAY=MO')", "dated(COL)", "unreadable(COL)"],
  ...["T_DURING(COL, INTERVAL('2026-01-01', '2026-05-15'))", "inWindow(COL, 'month.20/..')"],
  ...[
    "inWindow(COL, 'mnth')",
    "COL = DATE('2026-02-30')",
    "CAL = 1",
    "inWindow(COL, '2026-05-01/2026-05-10')",
  ],
];
const OTHERS = {
  works: [
    "status = 'open'",
    "cost > 500",
    "task LIKE '%lock%'",
    "CASEI(place) = CASEI('stourleigh')",
    "priority IN ('high', 'low')",
    "daysBetween(reported_on, due_on) > 30",
    "reported_on < due_on",
    "cost BETWEEN 100 AND 900.5",
  ],
  closures: [
    "towpathOpen = TRUE",
    "T_INTERSECTS(INTERVAL(starts, ends), INTERVAL('2026-01-01', '2026-06-01'))",
  ],
  passages: ["toll > 1000", "direction = 'up'", "length >= 15.5"],
};

/** Each listing with its date columns, the names of its parameters and their values. */
const LISTINGS = [
  ["works-raised", ["reported_on", "due_on", "finished_on"], { from: DAYS, to: DAYS }, "works"],
  [
    "works-open",
    ["due_on"],
    {
      from: DAYS,
      to: DAYS,
      priority: ["high", "low", "huge"],
      least: ["100", "19.99", "x"],
      most: ["500", "90"],
      find: ["lock", "gate repair"],
      "from.blank": ["include", "only", "exclude", "sometimes"],
      page: ["2", "0"],
    },
  ],
  [
    "inspections-due",
    ["Next due"],
    { from: DAYS, to: DAYS, due: WINDOWS, "due.blank": ["include", "only", "exclude"] },
  ],
  ["closures-begun", ["starts"], { from: DAYS, to: DAYS }],
  [
    "closures-ahead",
    ["starts"],
    { from: DAYS, to: DAYS, towpath: ["yes", "false", "x"], reason: ["flood", "works"] },
  ],
  ["passages-made", ["passed_at"], { from: DAYS, to: DAYS, made: WINDOWS }],
  [
    "works-costed",
    ["reported_on"],
    {
      from: DAYS,
      to: DAYS,
      raised: ["03/05/2026", "2026-05"],
      year: ["2026"],
      month: ["4"],
      cost: ["100/2500", "9/1"],
      costing: ["100"],
      status: ["cancelled", "finished"],
      task: ["Re", "in"],
      other: ["x"],
    },
    "works",
  ],
  ["works-here", ["due_on"], { from: DAYS, to: DAYS }],
  [
    "tolls-taken",
    ["passed_at"],
    {
      taken: WINDOWS,
      direction: ["up", "down", "left"],
      length: ["10/15", "../12"],
      since: DAYS,
      asOf: ["2026-02-10"],
      zone: ["Asia/Kathmandu", "Europe/Londn"],
    },
  ],
  ["locks-opened", ["opened"], { from: DAYS, to: DAYS, name: ["lock"] }],
  ["levels-read", ["day"], { from: DAYS, to: DAYS }],
  [
    "notices-given",
    ["given"],
    { from: DAYS, to: DAYS, "to-whom": ["anglers"], rows: ["records", "values"] },
  ],
];

/** A sequence of numbers that is the same each time. */
let state = 20_260_515;
function below(count) {
  state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
  return Math.floor((state / 2 ** 32) * count);
}
const oneOf = (list) => list[below(list.length)];

function request(index) {
  const [name, columns, parameters, kind] = LISTINGS[index % LISTINGS.length];
  const sent = new URLSearchParams();
  for (const key of Object.keys(parameters)) {
    if (below(Object.keys(parameters).length + 1) < 2) sent.append(key, oneOf(parameters[key]));
  }
  if (kind !== undefined && below(2) === 0) {
    const date = () => oneOf(CONDITIONS).replaceAll("COL", oneOf(columns));
    const condition = () => (below(2) === 0 ? date() : oneOf(OTHERS[kind]));
    sent.set(
      "filter",
      below(2) === 0 ? condition() : `${condition()} ${oneOf(["AND", "OR"])} NOT (${condition()})`,
    );
  }
  const around = below(10);
  if (around === 0) sent.set("order", oneOf([columns[0], `-${columns[0]}`, "nothing"]));
  if (around === 1)
    sent.set("with", oneOf(["unfiltered,extent", "clauses", "days", "display", "why"]));
  if (around === 2) sent.set("size", oneOf(["1", "20", "0", "many"]));
  if (around === 3) sent.set("total", oneOf(["exact", "none", "some"]));
  const path = oneOf([
    "records",
    "records",
    "records",
    "explain",
    "why",
    "timeline",
    "extent",
    "summary",
  ]);
  if (path === "summary" && below(3) > 0)
    sent.set("by", oneOf([columns[0], `${columns[0]}:month`, "place"]));
  return `/v1/listings/${name}/${path}?${sent}`;
}

/** What two services have in common: no times, ids of services, cursors, links, plans of a database. */
function comparable(value, name = "") {
  if (["links", "cursor", "requestId", "instance", "plan", "narrowing.ms"].includes(name))
    return undefined;
  if (Array.isArray(value)) return value.map((each) => comparable(each));
  if (typeof value !== "object" || value === null) return value;
  return Object.fromEntries(
    Object.entries(value).flatMap(([key, each]) => {
      const kept = comparable(each, key);
      return kept === undefined ? [] : [[key, kept]];
    }),
  );
}

const { service, end } = await startScratchService("record", { now: () => NOW });
const lines = [];
try {
  await loadDemo(service, { today: Math.floor(NOW / 86_400_000), passages: 5_000 });
  const authorization = `Bearer ${service.key}`;
  for (let index = 0; index < REQUESTS; index++) {
    const path = request(index);
    const answer = await globalThis.fetch(`${service.url}${path}`, { headers: { authorization } });
    const body = comparable(await answer.json());
    const kept = answer.headers.get("cache-control");
    lines.push(
      JSON.stringify({ path: decodeURIComponent(path), status: answer.status, kept, body }),
    );
  }
} finally {
  await end();
}
writeFileSync(file, `${lines.join("\n")}\n`);
process.stdout.write(`${lines.length} answers in ${file}\n`);
