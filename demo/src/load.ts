import {
  OrismaClient,
  OrismaError,
  type FileBody,
  type NewLadder,
  type NewSource,
  type ImportOptions,
} from "@orisma/client";
import { closuresJson } from "./closures.js";
import { daysOffCalendar } from "./days-off.js";
import { gaugesTable, gaugesTsv } from "./gauges.js";
import { inspectionsXlsx } from "./inspections.js";
import { DAYS_OFF, LISTINGS } from "./listings.js";
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
  columns: { reported_on: DAY, due_on: DAY, finished_on: DAY, cost: { type: "integer" } },
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
      towpathOpen: { type: "boolean" },
    },
  },
  {
    name: "passages",
    key: "passage",
    columns: {
      passed_at: { type: "date", reading: { kind: "instant", encoding: "text" } },
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

/** Days of gauges that are imported, the last of them the running one. */
export const GAUGE_DAYS = 8;
/** Hours of the running day that its gauges have. */
const HOURS_SO_FAR = 9;

/** Imports the demo data of today into a running service; a second time changes nothing. */
export async function loadDemo(
  service: { readonly url: string; readonly key: string },
  {
    passages = PASSAGES,
    today = Math.floor(Date.now() / 86_400_000),
  }: {
    readonly passages?: number;
    /** The day up to which the records go, counted from 1970-01-01. */
    readonly today?: number;
  } = {},
): Promise<void> {
  const client = new OrismaClient(service);
  const importFile = async (
    source: NewSource,
    file: FileBody,
    name: string,
    options?: ImportOptions,
  ) => {
    await client.createSource(source).catch(ifThere);
    await client.importFile(source.name, file, { file: name, ...options });
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
    await importFile(source, file, name);
  }
  for (let day = today - GAUGE_DAYS + 1; day <= today; day++) {
    const name = gaugesTable(day);
    const file = gaugesTsv(DEMO_SEED, day, day === today ? HOURS_SO_FAR : undefined);
    await importFile({ name, columns: GAUGE_COLUMNS }, file, `${name}.tsv`);
  }
  await importGenerated(client, today);
  await client.importHolidays(DAYS_OFF, daysOffCalendar());
  for (const [name, window] of Object.entries(WINDOWS)) await client.declareWindow(name, window);
  await client.declareLadder("due", DUE);
  for (const [name, listing] of Object.entries(LISTINGS))
    await client.declareListing(name, listing);
}

/** The sources that are made of others: all gauges as one, and who was notified of the closures. */
async function importGenerated(client: OrismaClient, today: number): Promise<void> {
  const gauges = Array.from({ length: GAUGE_DAYS }, (_, back) =>
    gaugesTable(today - back),
  ).reverse();
  const known = (await client.sources()).find(({ name }) => name === "levels");
  // Each day has another table: the source that has them is made again.
  if (known !== undefined && known.combine?.of.join() !== gauges.join()) {
    await client.deleteListing("levels-read").catch(ifMissing);
    await client.deleteSource("levels");
  }
  const sources: readonly NewSource[] = [
    { name: "levels", combine: { of: gauges, column: "table" } },
    {
      name: "closure-notices",
      unnest: {
        source: "closures",
        column: "notices",
        values: {
          given: {
            path: "$.given",
            column: {
              type: "date",
              reading: { kind: "date", encoding: "text", patterns: ["yyyy-MM-dd"] },
            },
          },
          to: { path: "$.to", column: { type: "text" } },
        },
      },
    },
  ];
  for (const source of sources) await client.createSource(source).catch(ifThere);
}

function ifThere(error: unknown): void {
  if (!(error instanceof OrismaError && error.status === 409)) throw error;
}

function ifMissing(error: unknown): void {
  if (!(error instanceof OrismaError && error.status === 404)) throw error;
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
