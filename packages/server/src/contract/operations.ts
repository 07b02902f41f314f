import {
  ISO_CALENDAR,
  UTC,
  answerWindow,
  epochMs,
  readValues,
  translateFilter,
  type Reading,
} from "@orisma/core/internal";
import { z } from "zod";
import { NEW_KEY, SIGN_IN } from "../access/index.js";
import { ATTACHED } from "../attached/index.js";
import { READ_REQUEST } from "../dates/index.js";
import { TRANSLATE } from "../filters/index.js";
import { FILE_OPTIONS } from "../files/index.js";
import { LISTING } from "../listings/index.js";
import { COMPARE, COUNT_REQUESTS, QUERY } from "../records/index.js";
import {
  FILE_TYPES,
  NEW_SOURCE,
  REPAIR,
  RESTORED,
  SETTLED,
  TAKE,
  WATCH,
} from "../sources/index.js";
import { ASKED, LADDER, NAMED_WINDOW, RESOLVE } from "../windows/index.js";
import {
  listOf,
  object,
  shape,
  type Operation,
  type QueryParameter,
  type Schema,
} from "./operation.js";

const TEXT: Schema = { type: "string" };
const FILE = { media: FILE_TYPES, what: "the file itself, whatever it is: it is found out" };

/** Every call of the service, those of listings without what each declares. */
export function operations(): readonly Operation[] {
  return [
    ...windowOperations(),
    ...dateOperations(),
    ...sourceOperations(),
    ...databaseOperations(),
    ...listingOperations(),
    ...accessOperations(),
    ...serviceOperations(),
  ];
}

/** The parameters of an address that a schema takes. */
function queryOf(schema: z.ZodObject): readonly QueryParameter[] {
  const { properties = {}, required = [] } = z.toJSONSchema(schema, { io: "input" });
  return Object.entries(properties).map(([name, each]) => ({
    name,
    description: (typeof each === "object" ? each.description : undefined) ?? name,
    schema: each as Schema,
    required: required.includes(name),
  }));
}

const RESOLVED = { window: "month-1/now", asOf: "2026-11-25T09:00:00Z", zone: "Europe/London" };

function resolvedExample() {
  const asOf = epochMs(Date.parse(RESOLVED.asOf));
  const answer = answerWindow(RESOLVED.window, { asOf, zone: UTC, calendar: ISO_CALENDAR });
  const sent = { ...RESOLVED, zone: "UTC" };
  return answer.ok ? { sent, came: answer.value } : undefined;
}

function windowOperations(): readonly Operation[] {
  const tag = "windows";
  const example = resolvedExample();
  return [
    {
      method: "post",
      path: "/v1/windows/resolve",
      tag,
      summary: "What a window covers at an instant in a zone",
      role: "reader",
      body: RESOLVE,
      answer: shape("WindowAnswer"),
      ...(example === undefined ? {} : { example }),
    },
    {
      method: "get",
      path: "/v1/windows",
      tag,
      summary: "The windows that have a name, with their dates",
      role: "reader",
      query: queryOf(ASKED),
      answer: listOf("windows", "ListedWindowAnswer"),
    },
    {
      method: "put",
      path: "/v1/windows/{name}",
      tag,
      summary: "Give a window a name",
      role: "maker",
      body: NAMED_WINDOW,
      answer: shape("NamedWindow"),
    },
    {
      method: "delete",
      path: "/v1/windows/{name}",
      tag,
      summary: "Take a name from a window",
      role: "maker",
      answer: null,
    },
    {
      method: "get",
      path: "/v1/ladders",
      tag,
      summary: "The ladders: sets of windows that tile a stretch",
      role: "reader",
      query: queryOf(ASKED),
      answer: listOf("ladders", "LadderDescription"),
    },
    {
      method: "get",
      path: "/v1/ladders/{name}",
      tag,
      summary: "A ladder with the dates of its rungs",
      role: "reader",
      query: queryOf(ASKED),
      answer: shape("LadderDescription"),
    },
    {
      method: "put",
      path: "/v1/ladders/{name}",
      tag,
      summary: "Declare a ladder, which is checked to tile",
      role: "maker",
      body: LADDER,
      answer: shape("LadderDescription"),
    },
    {
      method: "delete",
      path: "/v1/ladders/{name}",
      tag,
      summary: "End a ladder",
      role: "maker",
      answer: null,
    },
    {
      method: "get",
      path: "/v1/holidays",
      tag,
      summary: "The lists of days off",
      role: "reader",
      answer: listOf("holidayLists", "HolidayListDescription"),
    },
    {
      method: "get",
      path: "/v1/holidays/{name}",
      tag,
      summary: "A list of days off, day by day",
      role: "reader",
      answer: {
        allOf: [shape("HolidayListDescription"), listOf("holidays", "Holiday")],
      },
    },
    {
      method: "put",
      path: "/v1/holidays/{name}",
      tag,
      summary: "Take a list of days off from an iCalendar file (RFC 5545)",
      role: "maker",
      body: { media: ["text/calendar"], what: "the file itself" },
      answer: shape("HolidayListDescription"),
    },
    {
      method: "delete",
      path: "/v1/holidays/{name}",
      tag,
      summary: "End a list of days off",
      role: "maker",
      answer: null,
      problems: ["already-there"],
    },
  ];
}

function dateOperations(): readonly Operation[] {
  const reading: Reading = { kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"] };
  const values = ["05/03/2024", "", "31/02/2024"];
  const read = readValues(values, reading);
  const translation = {
    database: "postgresql",
    table: "works",
    columns: {
      id: { type: "integer" },
      raised: { type: "date", reading: { kind: "date", encoding: "native" } },
    },
    filter: "raised >= DATE('2024-03')",
  } as const;
  const parsed = TRANSLATE.parse(translation);
  const translated = translateFilter(
    {
      ...translation,
      key: parsed.key,
      limit: parsed.limit,
      columns: {
        id: { type: { type: "integer" } },
        raised: { type: { type: "date", reading: { kind: "date", encoding: "native" } } },
      },
    },
    { asOf: epochMs(0), zone: UTC, calendar: ISO_CALENDAR },
  );
  return [
    {
      method: "post",
      path: "/v1/dates/read",
      tag: "dates",
      summary: "Values under a reading: dates, blanks, and why the others cannot be read",
      role: "reader",
      body: READ_REQUEST,
      answer: object({ results: { type: "array", items: shape("ReadAnswer") } }),
      ...(read.ok ? { example: { sent: { values, reading }, came: { results: read.value } } } : {}),
    },
    {
      method: "post",
      path: "/v1/filters/translate",
      tag: "dates",
      summary: "A filter in CQL2 as SQL and values for a database of one's own; it is never run",
      role: "reader",
      body: TRANSLATE,
      answer: shape("Translation"),
      ...(translated.ok ? { example: { sent: translation, came: translated.value } } : {}),
    },
  ];
}

function sourceOperations(): readonly Operation[] {
  const tag = "sources";
  const path = "/v1/sources/{name}";
  const take = (method: "put" | "post" | "patch", summary: string): Operation => ({
    method,
    path: `${path}/records`,
    tag,
    summary,
    role: "owner",
    query: queryOf(TAKE),
    body: FILE,
    answer: shape("LoadReport"),
    problems: ["already-there", "breaks-listings", "busy", "cancelled", "too-many-requests"],
  });
  return [
    {
      method: "get",
      path: "/v1/sources",
      tag,
      summary: "The sources of records",
      role: "maker",
      answer: listOf("sources", "SourceDescription"),
    },
    {
      method: "post",
      path: "/v1/sources",
      tag,
      summary: "Declare a source",
      role: "owner",
      body: NEW_SOURCE,
      answer: shape("SourceDescription"),
      status: 201,
      problems: ["already-there"],
    },
    {
      method: "get",
      path,
      tag,
      summary: "A source: its columns, its records, its loads",
      role: "maker",
      answer: shape("SourceDescription"),
    },
    {
      method: "delete",
      path,
      tag,
      summary: "End a source that nothing uses",
      role: "owner",
      answer: null,
      problems: ["already-there"],
    },
    {
      method: "get",
      path: `${path}/profile`,
      tag,
      summary: "What the columns hold, and what their dates most likely are",
      role: "maker",
      answer: shape("SourceProfile"),
    },
    {
      method: "put",
      path: `${path}/readings`,
      tag,
      summary: "Settle how columns are read",
      role: "owner",
      body: SETTLED,
      answer: shape("LoadReport"),
      problems: ["breaks-listings", "busy"],
    },
    {
      method: "post",
      path: `${path}/readings/preview`,
      tag,
      summary: "What another reading would come to",
      role: "maker",
      body: SETTLED,
      answer: shape("SettlingPreview"),
    },
    take("put", "Take a file in place of all records"),
    take("post", "Take a file to the records that there are"),
    take("patch", "Take a file that changes records by their key"),
    {
      method: "get",
      path: `${path}/records/{id}`,
      tag,
      summary: "A record cell by cell: as it is stored, and as it is read",
      role: "maker",
      answer: shape("RecordInspection"),
    },
    {
      method: "patch",
      path: `${path}/cells`,
      tag,
      summary: "Mend a cell that could not be read",
      role: "owner",
      body: REPAIR,
      answer: shape("RepairedCell"),
    },
    {
      method: "put",
      path: `${path}/watch`,
      tag,
      summary: "Take a file again whenever it changes",
      role: "owner",
      body: WATCH,
      answer: shape("SourceDescription"),
    },
    {
      method: "delete",
      path: `${path}/watch`,
      tag,
      summary: "Watch no file any more",
      role: "owner",
      answer: shape("SourceDescription"),
    },
    {
      method: "get",
      path: `${path}/loads`,
      tag,
      summary: "What was taken, and what is being taken",
      role: "maker",
      answer: object({
        running: { anyOf: [shape("LoadProgress"), { type: "null" }] },
        loads: { type: "array", items: shape("LoadDescription") },
      }),
    },
    {
      method: "delete",
      path: `${path}/loads/running`,
      tag,
      summary: "Cancel what is being taken",
      role: "owner",
      answer: null,
    },
    {
      method: "get",
      path: `${path}/loads/{load}/refused`,
      tag,
      summary: "The rows that were refused, each with the reason",
      role: "maker",
      answer: listOf("refused", "RefusedRow"),
      media: ["text/csv"],
    },
    {
      method: "post",
      path: `${path}/restore`,
      tag,
      summary: "Go back to the records before the last load",
      role: "owner",
      body: RESTORED,
      answer: shape("LoadReport"),
      problems: ["breaks-listings", "busy"],
    },
    {
      method: "post",
      path: "/v1/files/look",
      tag,
      summary: "What a file is, without taking it",
      role: "owner",
      query: queryOf(FILE_OPTIONS),
      body: FILE,
      answer: shape("FileLook"),
    },
  ];
}

function databaseOperations(): readonly Operation[] {
  const tag = "databases";
  const path = "/v1/databases/{name}";
  return [
    {
      method: "get",
      path: "/v1/databases",
      tag,
      summary: "The attached databases",
      role: "owner",
      answer: listOf("databases", "AttachedDatabase"),
    },
    {
      method: "put",
      path,
      tag,
      summary: "Attach a database, whose tables are only read",
      role: "owner",
      body: ATTACHED,
      answer: shape("AttachedDatabase"),
    },
    {
      method: "get",
      path,
      tag,
      summary: "An attached database",
      role: "owner",
      answer: shape("AttachedDatabase"),
    },
    {
      method: "delete",
      path,
      tag,
      summary: "Detach a database that no source uses",
      role: "owner",
      answer: null,
      problems: ["already-there"],
    },
    {
      method: "get",
      path: `${path}/tables`,
      tag,
      summary: "Its tables and views",
      role: "owner",
      answer: listOf("tables", "AttachedTable"),
    },
    {
      method: "get",
      path: `${path}/tables/{table}`,
      tag,
      summary: "A table: its columns and indexes",
      role: "owner",
      answer: shape("AttachedTableDetails"),
    },
  ];
}

function listingOperations(): readonly Operation[] {
  const tag = "listings";
  const path = "/v1/listings/{name}";
  const asked: QueryParameter = {
    name: "parameters",
    description: "What the listing declares, and what every listing takes",
    schema: { type: "object", additionalProperties: { type: ["string", "array"], items: TEXT } },
  };
  const around = (what: string, summary: string, answer: string): Operation => ({
    method: "get",
    path: `${path}/${what}`,
    tag,
    summary,
    role: "reader",
    query: [asked],
    answer: shape(answer),
  });
  return [
    {
      method: "get",
      path: "/v1/listings",
      tag,
      summary: "The listings that the key may read",
      role: "reader",
      answer: listOf("listings", "ListingDescription"),
    },
    {
      method: "get",
      path,
      tag,
      summary: "A listing as it is declared, with the types of its columns",
      role: "reader",
      answer: shape("ListingDetails"),
    },
    {
      method: "put",
      path,
      tag,
      summary: "Declare a listing, or a new version of it",
      role: "maker",
      body: LISTING,
      answer: shape("ListingDescription"),
    },
    {
      method: "delete",
      path,
      tag,
      summary: "End a listing; its versions stay",
      role: "maker",
      answer: null,
    },
    {
      method: "post",
      path: `${path}/check`,
      tag,
      summary: "What a declaration would change, or all that is wrong with it; nothing is kept",
      role: "maker",
      body: LISTING,
      answer: shape("DeclarationDifference"),
    },
    {
      method: "get",
      path: `${path}/versions`,
      tag,
      summary: "Every version that there was",
      role: "maker",
      answer: listOf("versions", "ListingVersion"),
    },
    {
      method: "get",
      path: `${path}/versions/{version}`,
      tag,
      summary: "The listing as it was declared in a version",
      role: "maker",
      answer: shape("ListingDeclaration"),
    },
    {
      method: "post",
      path: `${path}/versions/{version}/serve`,
      tag,
      summary: "Serve what a version said again, as a new version",
      role: "maker",
      answer: shape("ListingDescription"),
    },
    {
      method: "get",
      path: `${path}/windows`,
      tag,
      summary: "Which kinds of windows go with which parameters",
      role: "reader",
      answer: listOf("kinds", "PermittedKind"),
    },
    { ...around("records", "The records", "RecordsAnswer"), media: EXPORTS },
    ...["json", "csv", "ndjson", "xlsx"].map((format): Operation => ({
      ...around(`records.${format}`, `The records as ${format}`, "RecordsAnswer"),
      ...(format === "json" ? {} : { answer: TEXT, media: [MEDIA[format] ?? ""] }),
    })),
    {
      method: "post",
      path: `${path}/records/query`,
      tag,
      summary: "The records, asked for in a body, for what outgrows an address",
      role: "reader",
      body: QUERY,
      answer: shape("RecordsAnswer"),
      media: EXPORTS,
    },
    {
      method: "get",
      path: `${path}/records/{id}`,
      tag,
      summary: "One record",
      role: "reader",
      query: [asked],
      answer: { type: "object", additionalProperties: true },
    },
    around("why", "Why there are no records, condition by condition", "WhyAnswer"),
    around("why/{id}", "Why one record is in or out, condition by condition", "WhyAnswer"),
    around("choices/{column}", "The values of a column to choose from", "ChoicesAnswer"),
    around("extent", "The first and last dates of what is found", "ExtentAnswer"),
    around("timeline", "Records counted along time", "TimelineAnswer"),
    around("summary", "Records grouped, with measures and totals", "SummaryAnswer"),
    { ...around("explain", "How a request is understood and run", "Explanation"), role: "maker" },
    {
      method: "post",
      path: `${path}/compare`,
      tag,
      summary: "Two requests side by side: what left and what came",
      role: "reader",
      body: COMPARE,
      answer: shape("RecordsComparison"),
    },
    {
      method: "post",
      path: `${path}/counts`,
      tag,
      summary: "How many records each of several requests keeps",
      role: "reader",
      body: COUNT_REQUESTS,
      answer: shape("CountsAnswer"),
    },
  ];
}

const MEDIA: Readonly<Record<string, string>> = {
  csv: "text/csv",
  ndjson: "application/x-ndjson",
  xlsx: "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
};
/** The media types of exports. */
export const EXPORTS = Object.values(MEDIA);

function accessOperations(): readonly Operation[] {
  const tag = "access";
  const session = object({
    role: { enum: ["owner", "maker", "reader"] },
    csrf: { type: ["string", "null"] },
  });
  const self = { oneOf: [shape("KeyDescription"), { type: "null" }] };
  return [
    {
      method: "get",
      path: "/v1/keys",
      tag,
      summary: "The keys, without themselves",
      role: "owner",
      answer: listOf("keys", "KeyDescription"),
    },
    {
      method: "post",
      path: "/v1/keys",
      tag,
      summary: "Make a key, which is told this once",
      role: "owner",
      body: NEW_KEY,
      answer: { allOf: [shape("KeyDescription"), object({ key: TEXT })] },
      status: 201,
    },
    {
      method: "delete",
      path: "/v1/keys/{id}",
      tag,
      summary: "End a key at once",
      role: "owner",
      answer: null,
    },
    {
      method: "post",
      path: "/v1/sign-in-codes",
      tag,
      summary: "A one-time code with which a person signs in to the console",
      role: "owner",
      answer: object({ code: TEXT, expiresAt: { type: "string", format: "date-time" } }),
      status: 201,
    },
    {
      method: "get",
      path: "/v1/session",
      tag,
      summary: "What the key or the session may do",
      role: "reader",
      answer: { allOf: [session, object({ key: self })] },
    },
    {
      method: "post",
      path: "/v1/session",
      tag,
      summary: "Sign in with a one-time code, or with a key",
      role: null,
      body: SIGN_IN,
      answer: session,
      status: 201,
      problems: ["not-allowed"],
    },
    { method: "delete", path: "/v1/session", tag, summary: "Sign out", role: null, answer: null },
  ];
}

function serviceOperations(): readonly Operation[] {
  const tag = "service";
  const status = object({ status: TEXT });
  return [
    {
      method: "get",
      path: "/health/live",
      tag,
      summary: "Whether the service lives",
      role: null,
      answer: status,
    },
    {
      method: "get",
      path: "/health/ready",
      tag,
      summary: "Whether it can answer, and which listings no longer fit their sources",
      role: null,
      answer: object({ status: TEXT, listings: { type: "array", items: TEXT } }),
      problems: ["unavailable"],
    },
    {
      method: "get",
      path: "/openapi.json",
      tag,
      summary: "This description, as far as the key may see",
      role: "reader",
      answer: { type: "object", additionalProperties: true },
    },
    {
      method: "get",
      path: "/schemas/listing.json",
      tag,
      summary: "The JSON Schema of a listing's declaration",
      role: null,
      answer: { type: "object", additionalProperties: true },
    },
  ];
}
