import {
  TOTALS,
  EXTRAS,
  FORMATS,
  MAX_ORDERED,
  NESTED_ROWS,
  takesDates,
  takesPhrases,
  type Column,
  type DateParameter,
  type ParameterDeclaration,
  type ValueParameter,
} from "@orisma/core/internal";
import { CALLS, type Call, type CallName } from "@orisma/contract";
import type { Caller } from "../http/index.js";
import { shownColumn, type ServedListing } from "../listings/index.js";
import { allowedTo } from "../records/index.js";
import {
  describedCall,
  queryParameters,
  type DescribedCall,
  type QueryParameter,
  type Schema,
} from "./described.js";
import { endpointCall } from "./endpoint-call.js";

const TEXT: Schema = { type: "string" };

/** The calls of one listing with what it declares, as far as a caller may use them. */
export function callsOf(
  listing: ServedListing,
  caller: Caller,
  example: DescribedCall["example"],
): readonly DescribedCall[] {
  const { name, title } = listing.declaration;
  const declared = [
    ...listing.declaration.parameters.flatMap((each) =>
      parametersOf(each, takesPhrases(listing.declaration.phrases)),
    ),
    ...momentsOf(listing, caller),
  ];
  const record = recordSchema(listing);
  const calls = Object.entries<Call>(CALLS).flatMap(([key, call]): readonly DescribedCall[] => {
    // What is tried of a declaration is no call of the listing that serves.
    if (call.takesParameters !== true || call.isAlias === true || call.acceptsYaml === true) {
      return [];
    }
    const described = describedCall(key as CallName, call);
    const isPage = key === "GET /v1/listings/{name}/records";
    const isRecord = key === "GET /v1/listings/{name}/records/{id}";
    return [
      {
        ...described,
        path: described.path.replace("{name}", name),
        tag: name,
        summary: `${title}: ${described.summary.charAt(0).toLowerCase()}${described.summary.slice(1)}`,
        query: [
          ...declared,
          ...(isPage ? envelopeOf(listing) : []),
          ...(call.query === undefined ? [] : queryParameters(call.query)),
        ],
        answer: isRecord ? record : isPage ? pageOf(record, described.answer) : described.answer,
        ...(isPage && example !== undefined ? { example } : {}),
      },
    ];
  });
  const { endpoint } = listing.declaration;
  const page = calls.find(({ method, path }) => method === "get" && path.endsWith("/records"));
  if (endpoint === undefined || page === undefined) return calls;
  return [endpointCall(endpoint, { listing, page, declared, record }), ...calls];
}

/** A page whose records are those of one listing. */
function pageOf(record: Schema, page: Schema | null): Schema {
  const records = { type: "array", items: record };
  return { allOf: [page, { type: "object", properties: { records } }] };
}

function parameter(name: string, description: string, schema: Schema): QueryParameter {
  return { name, description, schema };
}

/** What a declared parameter takes, and what it does with blanks. */
function parametersOf(
  declared: ParameterDeclaration,
  takesPhrases: boolean,
): readonly QueryParameter[] {
  const { name, label, description, example, required = false } = declared;
  const returned = [label, description, wordsOf(declared, takesPhrases)].filter(
    (each) => each !== undefined,
  );
  const fields = takesDates(declared) ? (declared.fields ?? {}) : {};
  const isWanted = required && declared.default === undefined && Object.keys(fields).length === 0;
  const one: QueryParameter = {
    name,
    description: returned.join(". "),
    schema: {
      ...schemaOf(declared),
      ...(declared.default === undefined ? {} : { default: declared.default }),
    },
    ...(isWanted ? { required: true } : {}),
    ...(example === undefined ? {} : { example }),
  };
  const blank = parameter(
    `${name}.blank`,
    `Records without a value: left out, kept, or only they`,
    {
      enum: ["exclude", "include", "only"],
      default: declared.blanks,
    },
  );
  return [
    one,
    ...Object.entries(fields).map(([field, each]) =>
      parameter(each, `The ${field} of ${name}, sent by itself`, { type: "integer" }),
    ),
    ...(declared.type === "search" ? [] : [blank]),
  ];
}

function wordsOf(declared: ParameterDeclaration, takesPhrases: boolean): string {
  const { comparison, column, type } = declared;
  const of = column ?? (type === "search" ? (declared.columns ?? []).join(", ") : "");
  const compared = `${of} ${comparison}`;
  if (!takesDates(declared)) return `${compared}, ${type}`;
  const accepts = declared.accepts === undefined ? "" : `, or ${formOf(declared)}`;
  const phrase = takesPhrases ? ", or a phrase such as last month" : "";
  return type === "window"
    ? `${compared} a window, such as 2025-02, month-1 or P6W/now${phrase}`
    : `${compared} a date in ISO 8601 at any precision, or one that moves such as today or month-1${accepts}${phrase}`;
}

function formOf({ accepts }: DateParameter): string {
  return accepts?.patterns?.join(" or ") ?? accepts?.encoding ?? "";
}

function schemaOf(declared: ParameterDeclaration): Schema {
  return takesDates(declared) ? TEXT : valueSchema(declared);
}

function valueSchema({ type, values }: ValueParameter): Schema {
  const one = values === undefined ? TEXT : { type: "string", enum: values };
  switch (type) {
    case "integer":
      return { type: "integer" };
    case "decimal":
      return { type: "number" };
    case "boolean":
      return { type: "boolean" };
    case "several":
      return { type: "array", items: one };
    case "range":
      return { type: "string", pattern: "^\\s*(\\.\\.|[-+0-9.]+)\\s*/\\s*(\\.\\.|[-+0-9.]+)\\s*$" };
    case "oneOf":
    case "text":
    case "search":
      return one;
  }
}

/** The parameters of the moment that the caller may send. */
function momentsOf({ declaration }: ServedListing, caller: Caller): readonly QueryParameter[] {
  const described = {
    asOf: "The instant as of which the request is understood; that of the request by default",
    zone: `The zone in which days begin and end; ${declaration.zone} by default`,
  };
  return allowedTo(caller, declaration).map((name) => parameter(name, described[name], TEXT));
}

/** The parameters that every listing takes. */
function envelopeOf({ declaration, shown }: ServedListing): readonly QueryParameter[] {
  const { order, page, filter, rows } = declaration;
  const orders = order.allowed.flatMap((name) => [name, `-${name}`]);
  return [
    parameter("order", `A column with - before it for descending; ${order.default} by default`, {
      type: "array",
      items: { type: "string", enum: orders },
      maxItems: MAX_ORDERED,
    }),
    parameter("size", "Records of a page", {
      type: "integer",
      minimum: 1,
      maximum: page.max,
      default: page.size,
    }),
    parameter("cursor", "The page that a link of an answer leads to", TEXT),
    parameter("columns", "The columns wanted, in order", {
      type: "array",
      items: { type: "string", enum: shown },
    }),
    parameter("total", "How records are counted", { enum: TOTALS, default: "bounded" }),
    {
      ...parameter("with", "Further figures beside the records, each of which costs time", {
        type: "array",
        items: { enum: EXTRAS },
      }),
      isJoined: true,
    },
    parameter("format", "The format, where no Accept header can be sent", { enum: FORMATS }),
    ...(page.numbered === true
      ? [parameter("page", "The number of a page", { type: "integer", minimum: 1 })]
      : []),
    ...(rows === undefined
      ? []
      : [
          parameter("rows", "Each record once, or a line for each value inside", {
            enum: NESTED_ROWS,
            default: rows,
          }),
        ]),
    ...(filter === undefined
      ? []
      : [parameter("filter", "A compound condition in CQL2, as text or as JSON", TEXT)]),
  ];
}

/** A record of a listing. */
function recordSchema(listing: ServedListing): Schema {
  const { labels = {} } = listing.declaration;
  const columns = listing.shown.map((name): [string, Schema] => {
    const schema = columnSchema(shownColumn(name, listing));
    const label = labels[name];
    return [name, label === undefined ? schema : { ...schema, title: label }];
  });
  const id: [string, Schema] = ["id", { type: ["string", "integer"] }];
  // A column of that name has the id's value in it.
  return { type: "object", properties: Object.fromEntries([...columns, id]), required: ["id"] };
}

function columnSchema(column: Column): Schema {
  switch (column.type) {
    case "text":
      return { type: ["string", "null"] };
    case "integer":
    case "decimal":
      // Digits beyond those of a double come as text.
      return { type: ["number", "string", "null"] };
    case "boolean":
      return { type: ["boolean", "null"] };
    case "date":
      return column.kind === "local"
        ? { type: ["string", "null"], examples: ["2025-02-28T14:30:00"] }
        : { type: ["string", "null"], format: column.kind === "date" ? "date" : "date-time" };
  }
}
