import {
  OrismaClient,
  OrismaError,
  type FileBody,
  type NewLadder,
  type NewListing,
  type NewSource,
  type TakeOptions,
} from "@orisma/client";
import { closuresJson } from "./closures.js";
import { daysOffCalendar } from "./days-off.js";
import { gaugesTable, gaugesTsv } from "./gauges.js";
import { inspectionsXlsx } from "./inspections.js";
import { locksCsv } from "./locks.js";
import { PASSAGES, passagesNdjson } from "./passages.js";
import { DEMO_SEED } from "./places.js";
import { worksCsv } from "./works.js";

/** How the trust writes "no date". */
const BLANKS = ["N/A", "tbc"];
const DAY = {
  type: "date",
  reading: { kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"], blanks: BLANKS },
} as const;
const WALL = { kind: "local", encoding: "text", patterns: ["yyyy-MM-dd HH:mm"] } as const;

export const WORKS: NewSource = {
  name: "works",
  key: "order",
  columns: { raised: DAY, due: DAY, finished: DAY, cost: { type: "integer" } },
};

/** The sources of the trust, by the files in which they come; gauges have one a day besides. */
export const SOURCES: readonly NewSource[] = [
  WORKS,
  {
    name: "inspections",
    key: "Inspection",
    columns: {
      Inspected: { type: "date", reading: { kind: "local", encoding: "serial-1900" } },
      "Next due": {
        type: "date",
        reading: { kind: "date", encoding: "serial-1900", blanks: ["after stoppage"] },
      },
    },
  },
  {
    name: "closures",
    key: "closure",
    columns: {
      starts: { type: "date", reading: WALL },
      ends: { type: "date", reading: { ...WALL, blanks: ["until further notice"] } },
      published: { type: "date", reading: { kind: "instant", encoding: "epoch-s" } },
    },
  },
  {
    name: "passages",
    key: "passage",
    columns: {
      at: { type: "date", reading: { kind: "instant", encoding: "text" } },
      length: { type: "decimal" },
      toll: { type: "integer" },
    },
  },
  {
    name: "locks",
    key: "lock",
    columns: {
      opened: {
        type: "date",
        reading: { kind: "date", encoding: "text", patterns: ["d MMMM yyyy"] },
      },
      rebuilt: {
        type: "date",
        reading: { kind: "date", encoding: "text", patterns: ["dd.MM.yy"], twoDigitYearFrom: 1930 },
      },
    },
  },
];

export const WORKS_RAISED: NewListing = {
  title: "Works raised",
  source: "works",
  zone: "Europe/London",
  mainDate: "raised",
  parameters: [
    { name: "from", type: "date", column: "raised", comparison: "from", pair: "raised" },
    { name: "to", type: "date", column: "raised", comparison: "to", pair: "raised" },
  ],
  order: { allowed: ["raised", "due", "cost"], default: "-raised" },
  filter: { columns: [] },
};

/** The list of the trust's days off. */
export const DAYS_OFF = "brindle-vale";

function between(column: string): NonNullable<NewListing["parameters"]> {
  return [
    { name: "from", type: "date", column, comparison: "from", pair: column },
    { name: "to", type: "date", column, comparison: "to", pair: column },
  ];
}

/** The listings of the trust, by name. */
export const LISTINGS: Readonly<Record<string, NewListing>> = {
  "works-raised": WORKS_RAISED,
  "works-open": {
    title: "Works not finished",
    source: "works",
    zone: "Europe/London",
    mainDate: "due",
    fixed: "NOT status IN ('finished', 'cancelled')",
    parameters: [
      ...between("due"),
      {
        name: "priority",
        type: "several",
        column: "priority",
        comparison: "among",
        values: ["high", "medium", "low"],
      },
      { name: "least", type: "decimal", column: "cost", comparison: "atLeast", pair: "cost" },
      { name: "most", type: "decimal", column: "cost", comparison: "atMost", pair: "cost" },
      { name: "find", type: "search", columns: ["task", "place"], comparison: "contains" },
    ],
    units: { cost: { scale: 2 } },
    labels: { due: "due by", cost: "cost in pounds" },
    choices: { priority: { groups: { pressing: ["high", "medium"] } } },
    order: { allowed: ["due", "raised", "cost", "priority"], default: "due", ties: ["-cost"] },
    page: { numbered: true },
  },
  "inspections-due": {
    title: "Inspections due",
    source: "inspections",
    zone: "Europe/London",
    mainDate: "Next due",
    parameters: [
      ...between("Next due"),
      {
        name: "due",
        type: "window",
        column: "Next due",
        comparison: "on",
        blanks: "keep",
        label: "due in",
      },
    ],
    calendar: { holidayLists: [DAYS_OFF] },
    order: { allowed: ["Next due", "Inspected"], default: "Next due" },
  },
  "closures-begun": {
    title: "Closures begun",
    source: "closures",
    zone: "Europe/London",
    mainDate: "starts",
    parameters: between("starts"),
    order: { allowed: ["starts", "ends"], default: "-starts" },
  },
  "passages-made": {
    title: "Passages made",
    source: "passages",
    zone: "Europe/London",
    mainDate: "at",
    parameters: [
      ...between("at"),
      { name: "made", type: "window", column: "at", comparison: "on", label: "made in" },
    ],
    order: { allowed: ["at", "toll", "length"], default: "-at" },
  },
};

/** Days of gauges that are brought in, the last of them the running one. */
export const GAUGE_DAYS = 8;
/** Hours of the running day that its gauges have. */
const HOURS_SO_FAR = 9;

/** Brings the demo data of today into a running service; a second time changes nothing. */
export async function loadDemo(
  service: { readonly url: string; readonly key: string },
  { passages = PASSAGES }: { readonly passages?: number } = {},
): Promise<void> {
  const client = new OrismaClient(service);
  const today = Math.floor(Date.now() / 86_400_000);
  const bring = async (source: NewSource, file: FileBody, name: string, options?: TakeOptions) => {
    await client.createSource(source).catch((error: unknown) => {
      const isThere = error instanceof OrismaError && error.status === 409;
      if (!isThere) throw error;
    });
    await client.takeFile(source.name, file, { file: name, ...options });
  };
  const files: readonly (readonly [name: string, file: FileBody])[] = [
    ["works.csv", worksCsv(DEMO_SEED, today)],
    ["inspections.xlsx", new Uint8Array(await inspectionsXlsx(DEMO_SEED, today))],
    ["closures.json", closuresJson(DEMO_SEED, today)],
    ["passages.ndjson", [...passagesNdjson(DEMO_SEED, today, passages)].join("")],
    ["locks.csv", new Uint8Array(locksCsv(DEMO_SEED))],
  ];
  for (const [index, source] of SOURCES.entries()) {
    const [name = "", file = ""] = files[index] ?? [];
    await bring(source, file, name);
  }
  for (let day = today - GAUGE_DAYS + 1; day <= today; day++) {
    const name = gaugesTable(day);
    const file = gaugesTsv(DEMO_SEED, day, day === today ? HOURS_SO_FAR : undefined);
    await bring({ name, columns: GAUGE_COLUMNS }, file, `${name}.tsv`);
  }
  await client.takeHolidays(DAYS_OFF, daysOffCalendar());
  for (const [name, window] of Object.entries(WINDOWS)) await client.declareWindow(name, window);
  await client.declareLadder("due", DUE);
  for (const [name, listing] of Object.entries(LISTINGS))
    await client.declareListing(name, listing);
}

/** Windows that the trust has names for. */
const WINDOWS = {
  "dredging-season": { label: "this year's dredging season", window: "year;BYMONTH=9..11" },
  "office-week": { label: "the last 5 days of the office", window: "workday-5/yesterday" },
} as const;

/** What is to be inspected, by when. */
const DUE: NewLadder = {
  label: "when it is due",
  zone: "Europe/London",
  rungs: [
    "overdue",
    "today",
    { name: "within-a-week", label: "in the coming 7 days", window: "tomorrow/P7D" },
    { name: "later", label: "later", window: "day+8/.." },
  ],
};

const GAUGE_COLUMNS: NonNullable<NewSource["columns"]> = {
  day: { type: "date", reading: { kind: "date", encoding: "text", patterns: ["yyyyMMdd"] } },
  level: { type: "integer" },
};
