import type { DatabaseType } from "@orisma/core/internal";
import { z } from "zod";
import { describeCalls } from "./call.js";
import { tied, type Shown } from "./schema.js";

export const ATTACHED_DATABASE = z
  .object({
    name: z.string(),
    host: z.string(),
    port: z.number(),
    database: z.string(),
    user: z.string(),
    allowWriter: z
      .boolean()
      .describe("Whether an account that can write was accepted all the same."),
    attachedAt: z.string(),
  })
  .meta({
    id: "AttachedDatabase",
    description: "A database of others, of which tables may be read.",
  });
export type AttachedDatabase = Shown<typeof ATTACHED_DATABASE>;

export const ATTACHED_TABLE = z
  .object({
    name: z.string(),
    kind: z.enum(["table", "view"]),
    about: z
      .number()
      .nullable()
      .describe("About how many records it has, as the database reckons; null for a view."),
  })
  .meta({ id: "AttachedTable", description: "A table or view of an attached database." });
export type AttachedTable = Shown<typeof ATTACHED_TABLE>;

export const HOLDING = tied<DatabaseType>()(
  z
    .union([
      z.object({ type: z.enum(["text", "integer", "decimal", "float", "boolean"]) }),
      z.object({ type: z.literal("other") }),
      z.object({ type: z.literal("date") }),
      z.object({
        type: z.literal("timestamp"),
        digits: z.number().describe("Digits of a second, 0 to 6."),
        zoned: z.boolean(),
      }),
    ])
    .meta({ id: "DatabaseType", description: "What the database says that a column holds." }),
);

export const ATTACHED_TABLE_DETAILS = z
  .object({
    name: z.string(),
    kind: z.enum(["table", "view"]),
    columns: z.array(
      z.object({
        name: z.string(),
        type: z.string().describe("In the database's own words, such as `varchar(10)`."),
        holding: HOLDING.nullable().describe(
          "Null for what cannot be filtered, such as binary data.",
        ),
      }),
    ),
    indexes: z
      .record(z.string(), z.array(z.string()))
      .describe("The columns of each index in its order, by the name of the index."),
    keys: z.array(z.string()).describe("Columns that identify a record by themselves."),
  })
  .meta({
    id: "AttachedTableDetails",
    description: "What an attached database says of one of its tables.",
  });
export type AttachedTableDetails = Shown<typeof ATTACHED_TABLE_DETAILS>;

/** A database to be attached, and the account with which it is read. */
export const ATTACHED = z.strictObject({
  host: z.string({ error: "a host name or address" }).trim().min(1, "a host name or address"),
  port: z.int("a port").min(1, "a port").max(65_535, "a port").default(3_306),
  database: z
    .string({ error: "the name of a database" })
    .regex(/^[^\0/\\.]{1,64}$/, "the name of a database"),
  user: z.string({ error: "the name of an account" }).min(1, "the name of an account").max(128),
  password: z.string({ error: "the password of the account" }).max(1_000),
  allowWriter: z
    .boolean({ error: "true or false" })
    .default(false)
    .describe("Whether an account that can write is accepted all the same."),
});

const tag = "databases";
const role = "owner";

/** Attaching databases, and what there is in them. */
export const DATABASE_CALLS = describeCalls({
  "GET /v1/databases": {
    tag,
    summary: "The attached databases",
    role,
    answer: z.object({ databases: z.array(ATTACHED_DATABASE) }),
  },
  "PUT /v1/databases/{name}": {
    tag,
    summary: "Attach a database, whose tables are only read",
    role,
    body: ATTACHED,
    answer: ATTACHED_DATABASE,
  },
  "GET /v1/databases/{name}": {
    tag,
    summary: "An attached database",
    role,
    answer: ATTACHED_DATABASE,
  },
  "DELETE /v1/databases/{name}": {
    tag,
    summary: "Detach a database that no source uses",
    role,
    answer: null,
    problems: ["already-there"],
  },
  "GET /v1/databases/{name}/tables": {
    tag,
    summary: "Its tables and views",
    role,
    answer: z.object({ tables: z.array(ATTACHED_TABLE) }),
  },
  "GET /v1/databases/{name}/tables/{table}": {
    tag,
    summary: "A table: its columns and indexes",
    role,
    answer: ATTACHED_TABLE_DETAILS,
  },
});
