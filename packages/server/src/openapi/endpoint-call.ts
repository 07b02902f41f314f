import { type EndpointDeclaration, type EndpointPart } from "@orisma/core/internal";
import type { ServedListing } from "../listings/index.js";
import type { DescribedCall, QueryParameter, Schema } from "./described.js";

/** What an endpoint has that its listing has too. */
export interface EndpointCall {
  readonly listing: ServedListing;
  /** The call for the records of the listing itself. */
  readonly page: DescribedCall;
  /** What the listing declares. */
  readonly declared: readonly QueryParameter[];
  readonly record: Schema;
}

/** The call of an endpoint of a listing's own: in its own path, with its own names and shape. */
export function endpointCall(
  endpoint: EndpointDeclaration,
  { listing, page, declared, record }: EndpointCall,
): DescribedCall {
  const inPath = [...endpoint.path.matchAll(/\{([^}]+)\}/g)].flatMap(([, name = ""]) => [
    name,
    `${name}.blank`,
  ]);
  const { title } = listing.declaration;
  const { example: _, ...call } = page;
  return {
    ...call,
    path: endpoint.path,
    summary: `${title}: the records, in a form of their own`,
    query: [
      ...declared.filter(({ name }) => !inPath.includes(name)),
      ...orderOf(endpoint, listing),
      ...pagingOf(endpoint, listing),
      ...page.query.filter(({ name }) => name === "filter" || name === "rows"),
    ],
    answer: answerOf(endpoint, record),
    otherMedia: [],
  };
}

function orderOf(
  { order, fields = {} }: EndpointDeclaration,
  { declaration: { order: declared } }: ServedListing,
): readonly QueryParameter[] {
  if (order === undefined) return [];
  const names = declared.allowed.map((name) => fields[name] ?? name);
  const { field, direction, ascending = "asc", descending = "desc" } = order;
  return [
    {
      name: field,
      description: "The field to order by",
      schema: { type: "string", enum: names },
    },
    ...(direction === undefined
      ? []
      : [
          {
            name: direction,
            description: `Its direction; it requires ${field}`,
            schema: { type: "string", enum: [ascending, descending], default: ascending },
          },
        ]),
  ];
}

function pagingOf(
  { paging = {} }: EndpointDeclaration,
  { declaration: { page } }: ServedListing,
): readonly QueryParameter[] {
  const { limit = "size", page: number, offset } = paging;
  const whole = (minimum: number, more: Schema = {}): Schema => ({
    type: "integer",
    minimum,
    ...more,
  });
  return [
    {
      name: limit,
      description: "Records of a page",
      schema: whole(1, { maximum: page.max, default: page.size }),
    },
    ...(number === undefined
      ? []
      : [{ name: number, description: "The number of a page", schema: whole(1, { default: 1 }) }]),
    ...(offset === undefined
      ? []
      : [
          {
            name: offset,
            description: "Records before the page",
            schema: whole(0, { default: 0 }),
          },
        ]),
    ...(number === undefined && offset === undefined
      ? [
          {
            name: "cursor",
            description: "The page that a link of an answer leads to",
            schema: { type: "string" },
          },
        ]
      : []),
  ];
}

const PARTS: Readonly<Record<Exclude<EndpointPart, "records">, Schema>> = {
  total: { type: ["integer", "null"] },
  totalExact: { type: "boolean" },
  next: { type: ["string", "null"], description: "The URL of the next page" },
  previous: { type: ["string", "null"], description: "The URL of the page before" },
  sentence: { type: "string" },
  notices: { type: "array", items: { type: "string" } },
};

function answerOf(
  { answer = { records: "records" }, fields }: EndpointDeclaration,
  record: Schema,
): Schema {
  const records = { type: "array", items: fields === undefined ? record : renamed(record, fields) };
  if (answer === "list") return records;
  const parts = Object.entries(answer) as [EndpointPart, string][];
  const properties = parts.map(([part, name]) => [
    name,
    part === "records" ? records : PARTS[part],
  ]);
  return {
    type: "object",
    properties: Object.fromEntries(properties) as Schema,
    required: parts.map(([, name]) => name),
  };
}

/** A record with the columns that an endpoint sends, under the names that they have there. */
function renamed({ properties }: Schema, fields: Readonly<Record<string, string>>): Schema {
  const known = properties as Readonly<Record<string, Schema>>;
  const all = Object.entries(fields).map(([column, name]) => [name, known[column] ?? {}]);
  return {
    type: "object",
    properties: Object.fromEntries(all) as Schema,
    required: Object.values(fields),
  };
}
