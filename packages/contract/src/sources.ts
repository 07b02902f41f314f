import { COLUMN_TYPES } from "@orisma/core/internal";
import { z } from "zod";
import { describeCalls } from "./call.js";
import { READING, READING_SHOWN } from "./dates.js";
import { RENDERED_FAULT } from "./faults.js";
import { FILE, FILE_DESCRIPTION, FILE_OPTIONS } from "./files.js";
import { READINGS_PREVIEW, SOURCE_PROFILE } from "./profile.js";
import type { Sent, Shown } from "./schema.js";
import { BOOLEAN_FORM, BOOLEAN_FORM_SHOWN, NUMBER_FORM, NUMBER_FORM_SHOWN } from "./written.js";

/** How a file is imported: instead of the records, besides them, or over those of the same keys. */
export const IMPORT_MODES = ["replace", "append", "update"] as const;
export type ImportMode = (typeof IMPORT_MODES)[number];

const NAME = z.string().regex(/^[A-Za-z][A-Za-z0-9_-]{0,63}$/, {
  error: "a name is a letter, then letters, digits, - or _, 64 at most",
});

/** A column that is more than text, as it is sent. */
export const COLUMN = z.discriminatedUnion(
  "type",
  [
    z.strictObject({ type: z.literal("text") }),
    z.strictObject({ type: z.literal("integer"), written: NUMBER_FORM.exactOptional() }),
    z.strictObject({ type: z.literal("decimal"), written: NUMBER_FORM.exactOptional() }),
    z.strictObject({ type: z.literal("boolean"), written: BOOLEAN_FORM.exactOptional() }),
    z.strictObject({ type: z.literal("date"), reading: READING }),
  ],
  "a column has a type: text, integer, decimal, boolean or date",
);

/** A path into a JSON text. */
const PATH = z.string().min(1).max(500);

const UNNEST = z.strictObject({
  source: z.string(),
  column: z.string(),
  /** Where the elements are, as a path into a text. */
  each: PATH.default("$[*]"),
  /** The values of an element, by the name of their column. */
  values: z
    .record(z.string().min(1).max(64), z.strictObject({ path: PATH, column: COLUMN }))
    .refine((values) => Object.keys(values).length > 0, "one value at least")
    .refine((values) => Object.keys(values).length <= 100, "100 values at most"),
});

/** A source, as it is declared before its file is taken. */
export const NEW_SOURCE = z
  .strictObject({
    name: NAME,
    /** The column whose value is a record's id. */
    key: z.string().min(1).max(128).exactOptional(),
    /** The columns that are more than text, by name. */
    columns: z.record(z.string().min(1).max(128), COLUMN).default({}),
    /** A table or view of an attached database that it is to be, in place of a file. */
    attached: z
      .strictObject({
        database: z.string().max(64),
        /** With a date in braces it is a pattern for several: `gauges_{yyyyMMdd}`. */
        table: z.string().min(1).max(128),
        /** The column that has the dates of a pattern's tables. */
        dateColumn: z.string().min(1).max(64).exactOptional(),
        /** Whether the table of the day that has not ended is read too. */
        runningDay: z.boolean().exactOptional(),
        /** Columns that several of the table make up, such as a year and a month, with a hyphen between their values. */
        parts: z
          .record(z.string().min(1).max(128), z.array(z.string().min(1).max(128)).min(2).max(6))
          .exactOptional(),
      })
      .exactOptional(),
    /** Sources of like columns that it is to be, one after the other, in place of a file. */
    combine: z
      .strictObject({
        of: z.array(z.string()).min(2, "two sources at least").max(50, "50 sources at most"),
        /** The column that says from which of them a record comes. */
        column: z.string().min(1).max(64).default("source"),
      })
      .exactOptional(),
    /** The values inside a column of JSON strings of another source that it is to be. */
    unnest: UNNEST.exactOptional(),
  })
  .refine(
    ({ attached, combine, unnest }) =>
      [attached, combine, unnest].filter((each) => each !== undefined).length <= 1,
    "a source is a table of an attached database, several sources, or the values inside one: not two of these",
  )
  .refine(
    ({ combine, unnest, key, columns }) =>
      (combine === undefined && unnest === undefined) ||
      (key === undefined && Object.keys(columns).length === 0),
    "a source that is made of others has their columns and keys",
  );

/** How the columns of a source are to be understood from now on; those not named stay. */
export const NEW_READINGS = z.strictObject({
  columns: z
    .record(z.string().min(1).max(128), COLUMN)
    .refine((columns) => Object.keys(columns).length > 0, "one column at least"),
  /** Set them although listings would no longer be served. */
  force: z.boolean().default(false),
  /** Of an attached table: omit columns whose reading no query can express, and set the others. */
  partly: z.boolean().default(false),
});

/** A source to be declared. */
export type NewSource = Sent<typeof NEW_SOURCE>;
export type ReadNewSource = Shown<typeof NEW_SOURCE>;
/** A column to be declared, as it was read. */
export type ColumnDeclaration = Shown<typeof COLUMN>;
export type NewColumn = Sent<typeof COLUMN>;
/** Columns to be declared, by name. */
export type Columns = Readonly<Record<string, NewColumn>>;

const YES_OR_NO = z
  .enum(["yes", "no"], { error: "yes or no" })
  .default("no")
  .transform((text) => text === "yes");

/**
 * What becomes of edits that an import would overwrite: they are made again (`preserve`), the file's values take
 * their place (`overwrite`), or the import is refused with what it would overwrite (`report`).
 */
export const EDIT_POLICIES = ["preserve", "overwrite", "report"] as const;
export type EditPolicy = (typeof EDIT_POLICIES)[number];

const EDIT_POLICY = z.enum(EDIT_POLICIES, `one of ${EDIT_POLICIES.join(", ")}`);

/** How a file is imported, as parameters of the request. */
export const IMPORT_OPTIONS = FILE_OPTIONS.extend({
  columns: z.array(z.string()).default([]),
  again: YES_OR_NO,
  /** Take a file although listings would no longer be served. */
  force: YES_OR_NO,
  /** What becomes of edits that the file would overwrite; as the source says by default. */
  edits: EDIT_POLICY.exactOptional(),
  /** The name of the file, for people. */
  file: z.string().min(1, "a file's name").exactOptional(),
});

/** A cell to be given another text; null empties it. */
export const REPAIR = z.strictObject({
  id: z.union([z.string(), z.number()], { error: "a record's id" }),
  column: z.string(),
  value: z.string().max(1_000_000, "1,000,000 characters at most").nullable(),
});

/** A file that the service takes by itself: of its inbox, or from an address. */
export const WATCH = z
  .strictObject({
    file: z
      .string()
      .min(1, "a path within the inbox")
      .max(2_000, "2,000 characters at most")
      .exactOptional(),
    url: z
      .url({ protocol: /^https?$/, error: "an address that begins with https" })
      .max(2_000, "2,000 characters at most")
      .exactOptional(),
    mode: z.enum(IMPORT_MODES, { error: `one of ${IMPORT_MODES.join(", ")}` }).default("replace"),
    every: z
      .int("seconds")
      .min(5, "5 seconds at least")
      .max(7 * 86_400, "a week at most")
      .default(60),
    options: z.record(z.string(), z.string()).default({}),
  })
  .refine(({ file, url }) => (file === undefined) !== (url === undefined), {
    error: "a file of the inbox or a url, and not both",
  });

export const IMPORT_DESCRIPTION = z
  .object({
    number: z.number(),
    mode: z.enum(IMPORT_MODES),
    state: z.enum(["running", "done", "failed", "cancelled"]),
    file: z.string().nullable(),
    bytes: z.number(),
    sha256: z.string(),
    startedAt: z.string(),
    endedAt: z.string().nullable(),
    refused: z.number(),
    records: z.number().nullable(),
    problem: z.string().nullable(),
    inUse: z.boolean().describe("Whether the records are those of this import."),
  })
  .meta({ id: "ImportDescription", description: "A past import." });
export type ImportDescription = Shown<typeof IMPORT_DESCRIPTION>;

export const IMPORT_PROGRESS = z
  .object({
    mode: z.union([z.literal("readings"), z.enum(IMPORT_MODES)]),
    file: z.string().nullable(),
    stage: z.enum(["receiving", "reading", "ending"]),
    bytes: z
      .number()
      .describe("Bytes that have arrived, and the share of the file that has been read, 0 to 1."),
    share: z.number(),
    records: z.number(),
    refused: z.number(),
    startedAt: z.string(),
  })
  .meta({ id: "ImportProgress", description: "A running import." });
export type ImportProgress = Shown<typeof IMPORT_PROGRESS>;

export const DATE_CELLS = z
  .object({
    count: z.number(),
    encoding: z.enum(["serial-1900", "serial-1904", "text"]),
    zoned: z
      .number()
      .describe("Those that are stored with a zone, which no program shows.")
      .exactOptional(),
  })
  .meta({
    id: "DateCells",
    description: "Cells that a sheet shows as dates, and how it stores them.",
  });
export type DateCells = Shown<typeof DATE_CELLS>;

export const IMPORT_REPORT = z
  .object({
    source: z.string(),
    importNumber: z.number().nullable().describe("Null where no file was imported."),
    records: z.number().describe("Records of the source now."),
    added: z
      .number()
      .describe("Records that are new, and that are others than before by their key."),
    changed: z.number(),
    refused: z.number().describe("Rows of the file that could not be imported."),
    file: FILE_DESCRIPTION.extend({ headings: z.array(z.string()) })
      .describe("How the file was read.")
      .exactOptional(),
    dateCells: z
      .record(z.string(), DATE_CELLS)
      .describe("Columns with cells that the sheet shows as dates.")
      .exactOptional(),
    unchanged: z
      .boolean()
      .describe("Whether the same file had been imported before, so that nothing was done.")
      .exactOptional(),
    edits: z
      .object({
        preserved: z.number().describe("Cells that were edited, and were made so again."),
        overwritten: z.number().describe("Cells that were edited, and have the file's values now."),
        lost: z.number().describe("Cells that were edited, whose records are not in the file."),
      })
      .describe("What became of edits that the file says otherwise.")
      .exactOptional(),
    omitted: z
      .record(z.string(), z.array(RENDERED_FAULT))
      .describe("With partly: the columns that were not set, and why.")
      .exactOptional(),
    columns: z.record(
      z.string(),
      z.object({
        read: z.number(),
        blank: z.number(),
        unreadable: z.number(),
        examples: z
          .array(
            RENDERED_FAULT.extend({
              line: z.number().exactOptional(),
              record: z.string().exactOptional(),
            }),
          )
          .describe(
            "The first unreadable cells: by line of the file, or by record where none was imported.",
          ),
        notice: z
          .string()
          .describe(
            "What its dates cost, in a table of an attached database that no index finds them in.",
          )
          .exactOptional(),
      }),
    ),
  })
  .meta({
    id: "ImportReport",
    description:
      "What was made of a file, column by column; text columns are imported as they are.",
  });
export type ImportReport = Shown<typeof IMPORT_REPORT>;

export const INSPECTED_CELL = z
  .object({
    column: z.string(),
    type: z.enum(COLUMN_TYPES),
    reading: READING_SHOWN.describe(
      "For dates: what they mean, and how they are stored.",
    ).exactOptional(),
    raw: z.string().nullable(),
    state: z.enum(["dated", "blank", "unreadable", "text"]),
    date: z.string().describe("In standard form and in words, where it is a date.").exactOptional(),
    long: z.string().exactOptional(),
    fault: RENDERED_FAULT.exactOptional(),
  })
  .meta({ id: "InspectedCell", description: "A cell as it came and as it is read." });
export type InspectedCell = Shown<typeof INSPECTED_CELL>;

export const RECORD_INSPECTION = z
  .object({ id: z.union([z.string(), z.number()]), cells: z.array(INSPECTED_CELL) })
  .meta({
    id: "RecordInspection",
    description: "One record of a source, cell by cell: as it came, and as it is read.",
  });
export type RecordInspection = Shown<typeof RECORD_INSPECTION>;

export const REFUSED_ROW = z
  .object({ line: z.number(), reason: z.string(), cells: z.array(z.string().nullable()) })
  .meta({ id: "RefusedRow", description: "A row that could not be imported." });
export type RefusedRow = Shown<typeof REFUSED_ROW>;

export const REPAIRED_CELL = z
  .object({
    id: z.union([z.string(), z.number()]),
    column: z.string(),
    value: z.string().nullable(),
    before: z.string().nullable(),
    state: z.enum(["dated", "blank", "unreadable", "text"]),
    fault: RENDERED_FAULT.exactOptional(),
  })
  .meta({ id: "RepairedCell", description: "A cell that was given another text." });
export type RepairedCell = Shown<typeof REPAIRED_CELL>;

export const UNNESTED_SOURCE = UNNEST.meta({
  id: "UnnestedSource",
  description: "A source that is the values inside a column of JSON strings of another.",
});
export type UnnestedSource = Shown<typeof UNNESTED_SOURCE>;

export const WATCHED_FILE = z
  .object({
    file: z.string().describe("Its path within the inbox of the service.").exactOptional(),
    url: z.string().describe("The address from which it is fetched.").exactOptional(),
    mode: z.enum(IMPORT_MODES),
    every: z.number().describe("Seconds between two looks at it."),
    options: z.record(z.string(), z.string()),
  })
  .meta({
    id: "WatchedFile",
    description: "A file that the service takes by itself: of its inbox, or from an address.",
  });
export type WatchedFile = Shown<typeof WATCHED_FILE>;

export const WATCH_LOOK = z
  .object({
    outcome: z
      .enum(["imported", "unchanged", "failed"])
      .describe("Whether the file was imported, was the same as before, or could not be taken."),
    place: z.string().describe("The address, or the path within the inbox."),
    firstAt: z.string(),
    lastAt: z.string().describe("Looks that came to the same are one, from the first to the last."),
    looks: z.number(),
    problem: z.string().nullable().describe("Why it could not be taken."),
    importNumber: z.number().nullable(),
    records: z.number().nullable(),
  })
  .meta({ id: "WatchLook", description: "What came of looking at a watched file." });
export type WatchLook = Shown<typeof WATCH_LOOK>;

const WATCH_STATE = z.object({
  watch: WATCHED_FILE.nullable(),
  nextAt: z.string().nullable().describe("When it is looked at next."),
  looks: z.array(WATCH_LOOK).describe("The last first, 100 at most."),
});
export type WatchState = Shown<typeof WATCH_STATE>;

const SOURCE_COLUMN = z
  .union([
    z.object({
      name: z.string(),
      type: z.enum(["text", "integer", "decimal", "boolean"]),
      written: z
        .union([NUMBER_FORM_SHOWN, BOOLEAN_FORM_SHOWN])
        .describe("How its numbers are written, or its yes and no; in plain form by default.")
        .exactOptional(),
      distinct: z
        .number()
        .describe("Of text whose values repeat: how many there are, 10,000 at most.")
        .exactOptional(),
    }),
    z.object({ name: z.string(), type: z.literal("date"), reading: READING_SHOWN }),
  ])
  .meta({ id: "SourceColumn", description: "A column of a source." });
export type SourceColumn = Shown<typeof SOURCE_COLUMN>;

export const SOURCE_DESCRIPTION = z
  .object({
    name: z.string(),
    key: z.string().nullable().describe("The column whose value is a record's id, or null."),
    attached: z
      .object({
        database: z.string(),
        table: z.string().describe("With a date in braces it is a pattern for several."),
        dateColumn: z
          .string()
          .describe("Of a pattern: the column that has the dates of its tables.")
          .exactOptional(),
        runningDay: z
          .boolean()
          .describe("Of a pattern: whether the table of the day that has not ended is read too.")
          .exactOptional(),
        parts: z
          .record(z.string(), z.array(z.string()))
          .describe(
            "Columns that several of the table make up, with a hyphen between their values.",
          )
          .exactOptional(),
      })
      .nullable()
      .describe("The table of an attached database that it is; null for one of the service's own."),
    combine: z
      .object({
        of: z.array(z.string()),
        column: z.string().describe("The column that says from which of them a record comes."),
        differences: z.array(z.string()),
      })
      .nullable()
      .describe(
        "The sources that it is, and how their columns differ; null for one that is not several.",
      ),
    unnest: UNNESTED_SOURCE.nullable().describe(
      "The values inside a column of another that it is; null for one that is not.",
    ),
    tables: z
      .object({
        count: z.number(),
        first: z.string().nullable(),
        last: z.string().nullable(),
        omitted: z.array(z.object({ table: z.string(), reason: z.string() })),
      })
      .describe("For a pattern of tables: those that are read, and those that are not.")
      .exactOptional(),
    records: z.number().nullable().describe("Null for an attached one, whose records come and go."),
    importedAt: z.string().nullable().describe("Null until a file was imported."),
    importNumber: z
      .number()
      .nullable()
      .describe("The import that its records come from; null until a file was imported."),
    before: z
      .object({ importNumber: z.number().nullable(), records: z.number() })
      .nullable()
      .describe("What can be restored, or null."),
    edits: z
      .enum(EDIT_POLICIES)
      .describe("What becomes of edits that an import would overwrite: refused by default."),
    watch: WATCHED_FILE.nullable().describe(
      "A file that the service takes again when it changes, or null.",
    ),
    columns: z.array(SOURCE_COLUMN),
  })
  .meta({ id: "SourceDescription", description: "A source as it is returned." });
export type SourceDescription = Shown<typeof SOURCE_DESCRIPTION>;

const tag = "sources";

/** The records of a file, taken in one of the ways. */
function take<const Summary extends string>(summary: Summary) {
  return {
    tag,
    summary,
    role: "owner",
    query: IMPORT_OPTIONS,
    body: FILE,
    answer: IMPORT_REPORT,
    problems: ["already-there", "breaks-listings", "busy", "cancelled", "overwrites-edits"],
  } as const;
}

/** Sources, what is in them, and how their columns are read. */
const COLUMN_USE = z
  .object({
    listing: z.string(),
    places: z.array(z.string()).describe("Where its declaration speaks of the column."),
  })
  .meta({ id: "ColumnUse", description: "A listing that stands on a column." });
export type ColumnUse = Shown<typeof COLUMN_USE>;

/** The columns of an index, in its order. */
const INDEX_COLUMNS = z.array(z.string().min(1)).min(1).max(16);

/** An index to be made. */
export const NEW_INDEX = z.strictObject({
  columns: INDEX_COLUMNS.describe("In the order of the index."),
});

/** An index that was made. */
export const MADE_INDEX = z
  .object({
    columns: INDEX_COLUMNS,
    bytes: z.number().describe("About how much disk space it takes."),
    seconds: z.number().describe("How long it took; records were read meanwhile."),
  })
  .meta({ id: "MadeIndex", description: "An index that was made, and what it costs." });
export type MadeIndex = Shown<typeof MADE_INDEX>;

/** What indexes are for. */
export const INDEX_PURPOSES = ["requested", "listings", "dates"] as const;

/** The indexes of a source, and those that would serve. */
export const SOURCE_INDEXES = z
  .object({
    indexes: z.array(
      z.object({
        columns: INDEX_COLUMNS,
        purpose: z
          .enum(INDEX_PURPOSES)
          .describe("Requested by somebody, needed by listings, or that of a date column."),
        state: z.enum(["ready", "building"]),
        bytes: z.number().describe("About how much disk space it takes."),
      }),
    ),
    proposals: z
      .array(
        z.object({
          columns: INDEX_COLUMNS,
          bytes: z.number().describe("About how much disk space it would take."),
          requests: z.number().describe("How many slow requests it would have served."),
          slowestMs: z.number().describe("How long the slowest of them took, in milliseconds."),
          column: z.string().describe("The column by which they were filtered."),
        }),
      )
      .describe("Indexes that would serve requests which were slow since the service started."),
  })
  .meta({ id: "SourceIndexes", description: "The indexes of a source, and proposals." });
export type SourceIndexes = Shown<typeof SOURCE_INDEXES>;

export const SOURCE_CALLS = describeCalls({
  "GET /v1/sources": {
    tag,
    summary: "The sources of records",
    role: "author",
    answer: z.object({ sources: z.array(SOURCE_DESCRIPTION) }),
  },
  "POST /v1/sources": {
    tag,
    summary: "Declare a source",
    role: "owner",
    body: NEW_SOURCE,
    answer: SOURCE_DESCRIPTION,
    status: 201,
    problems: ["already-there"],
  },
  "GET /v1/sources/{name}": {
    tag,
    summary: "A source: its columns, its records, its imports",
    role: "author",
    answer: SOURCE_DESCRIPTION,
  },
  "DELETE /v1/sources/{name}": {
    tag,
    summary: "Delete a source that nothing uses",
    role: "owner",
    answer: null,
    problems: ["already-there"],
  },
  "GET /v1/sources/{name}/profile": {
    tag,
    summary: "What the columns hold, and what their dates most likely are",
    role: "author",
    answer: SOURCE_PROFILE,
  },
  "PUT /v1/sources/{name}/readings": {
    tag,
    summary: "Set how columns are read",
    role: "owner",
    body: NEW_READINGS,
    answer: IMPORT_REPORT,
    problems: ["breaks-listings", "busy"],
  },
  "POST /v1/sources/{name}/readings/preview": {
    tag,
    summary: "What columns would be under other readings",
    role: "author",
    isRead: true,
    body: NEW_READINGS,
    answer: READINGS_PREVIEW,
  },
  "PUT /v1/sources/{name}/records": take("Import a file in place of all records"),
  "POST /v1/sources/{name}/records": take("Import a file beside the records that there are"),
  "PATCH /v1/sources/{name}/records": take("Import a file that changes records by their key"),
  "GET /v1/sources/{name}/records/{id}": {
    tag,
    summary: "A record cell by cell: as it is stored, and as it is read",
    role: "author",
    answer: RECORD_INSPECTION,
  },
  "PATCH /v1/sources/{name}/cells": {
    tag,
    summary: "Repair a cell that could not be read",
    role: "owner",
    body: REPAIR,
    answer: REPAIRED_CELL,
  },
  "GET /v1/sources/{name}/columns/{column}/uses": {
    tag,
    summary: "What stands on a column: where listings speak of it, sources made of it, its edits",
    role: "author",
    answer: z.object({
      listings: z.array(COLUMN_USE),
      sources: z.array(z.string()).describe("Sources that are made of it, or of all columns."),
      edits: z.number().describe("Cells of it that were edited."),
    }),
  },
  "PUT /v1/sources/{name}/edits": {
    tag,
    summary: "Say what becomes of edits that an import would overwrite",
    role: "owner",
    body: z.strictObject({ onImport: EDIT_POLICY }),
    answer: SOURCE_DESCRIPTION,
  },
  "GET /v1/sources/{name}/indexes": {
    tag,
    summary: "The indexes of a source, and those that would serve slow requests",
    role: "author",
    answer: SOURCE_INDEXES,
  },
  "POST /v1/sources/{name}/indexes": {
    tag,
    summary: "Make an index, while records are read; later tables of the source have it too",
    role: "owner",
    body: NEW_INDEX,
    answer: MADE_INDEX,
    status: 201,
  },
  "DELETE /v1/sources/{name}/indexes/{columns}": {
    tag,
    summary:
      "Delete an index that was requested, by its columns with commas between them, or cancel its making",
    role: "owner",
    answer: null,
  },
  "GET /v1/sources/{name}/watch": {
    tag,
    summary: "The file that is imported again whenever it changes, and what came of looking at it",
    role: "author",
    answer: WATCH_STATE,
  },
  "PUT /v1/sources/{name}/watch": {
    tag,
    summary: "Import a file of the inbox, or from an address, again whenever it changes",
    role: "owner",
    body: WATCH,
    answer: SOURCE_DESCRIPTION,
    problems: ["not-allowed"],
  },
  "POST /v1/sources/{name}/watch/look": {
    tag,
    summary: "Look at the watched file now, and import it if it has changed",
    role: "owner",
    answer: WATCH_LOOK,
  },
  "DELETE /v1/sources/{name}/watch": {
    tag,
    summary: "Stop watching a file; what came of looking at it is kept",
    role: "owner",
    answer: SOURCE_DESCRIPTION,
  },
  "GET /v1/sources/{name}/imports": {
    tag,
    summary: "What was imported, and what is being imported",
    role: "author",
    answer: z.object({ running: IMPORT_PROGRESS.nullable(), imports: z.array(IMPORT_DESCRIPTION) }),
  },
  "DELETE /v1/sources/{name}/imports/running": {
    tag,
    summary: "Cancel what is being imported",
    role: "owner",
    answer: null,
  },
  "GET /v1/sources/{name}/imports/{number}/refused": {
    tag,
    summary: "The rows that were refused, each with the reason",
    role: "author",
    answer: z.object({ refused: z.array(REFUSED_ROW) }),
    otherMedia: ["text/csv"],
  },
  "POST /v1/sources/{name}/restore": {
    tag,
    summary: "Go back to the records before the last import",
    role: "owner",
    body: z
      .strictObject({ force: z.boolean().default(false), edits: EDIT_POLICY.exactOptional() })
      .prefault({}),
    answer: IMPORT_REPORT,
    problems: ["breaks-listings", "busy"],
  },
});
