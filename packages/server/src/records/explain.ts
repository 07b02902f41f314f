import {
  MARIADB,
  NOTHING,
  countStatement,
  appliedBy,
  cql2OfQuery,
  filterOfPart,
  cql2Text,
  filterInWords,
  intervalText,
  pageParts,
  pageStatement,
  recurringSpanText,
  requiredDates,
  namingOf,
  queryInWords,
  renderNotice,
  sentenceOf,
  simplify,
  type CompoundExplained,
  type Explanation,
  type PlannedRequest,
  type Query,
  type ResolvedQuery,
} from "@orisma/core/internal";
import type { Gateway, Read } from "../database/index.js";
import type { ServedListing } from "../listings/index.js";
import { planOf } from "./plan.js";
import type { PreparedRequest } from "./prepared.js";
import { narrowedTo } from "./read.js";
import { WHOLE } from "./sight.js";
import { NO_TABLE, tableQuery } from "./source-tables.js";
import { targetsOf, whyOf } from "./why.js";

/** Explains a request: what it means, what it narrows, and how the database goes about it. */
export async function explain(
  prepared: PreparedRequest,
  read: Read,
  readBy: (gateway: Gateway) => Read,
): Promise<Explanation> {
  const { listing, planned, tables, everyTable } = prepared;
  // Of several tables the statements are those of the first that is opened.
  const { descending } = prepared.query.order;
  const opened = (descending ? tables.at(-1) : tables[0]) ?? null;
  const table = opened?.table ?? prepared.table;
  const filter = opened === null ? NOTHING : await narrowedTo(opened.filter, table, opened.gateway);
  const query = tableQuery(prepared.query, { ...(opened ?? NO_TABLE), filter }, table);
  const targets = targetsOf({ ...prepared, table }, read, readBy);
  const { narrowing, neighbours, reasons } = await whyOf(prepared, targets, read, table, WHOLE);
  const derivedColumns = { filter: query.filter, order: query.order, source: listing.source };
  const parts = pageParts(query, table);
  const page = pageStatement({ ...(parts[0] ?? query), counts: [] }, table, MARIADB);
  const count = countStatement(
    { ...(query.counts[0] ?? prepared.query.counts[0] ?? { cap: null }), filter: query.filter },
    table,
    MARIADB,
  );
  return {
    sentence: sentenceOf(listing.declaration, planned),
    zone: listing.zone.id,
    conditions: requestedConditions(prepared),
    values: planned.values.map(({ parameters, filter }) => ({
      parameters: parameters.map(({ declaration: { name }, raw, values }) => ({
        parameter: name,
        sent: raw,
        values,
      })),
      sentence: filterInWords(filter, namingOf(listing.declaration)),
    })),
    fixedFilter: fixedOf(planned, listing),
    compound: compoundOf(planned, listing),
    names: Object.fromEntries(
      [...table.columns].map(([name, { value }]): [string, string] => [value, name]),
    ),
    statements: {
      page: { text: page.text, values: page.values },
      parts: parts.length,
      count: prepared.query.counts.length === 0 ? null : count,
    },
    notices: planned.notices.map(renderNotice),
    narrowing,
    ...(prepared.isSeveral ? { tables: { opened: tables.length, of: everyTable.length } } : {}),
    plan:
      opened === null
        ? { page: [], count: [] }
        : {
            page: await planOf(page, derivedColumns, read),
            count: await planOf(count, { ...derivedColumns, order: null }, read),
          },
    neighbours,
    empty: reasons,
  };
}

function requestedConditions({ planned }: PreparedRequest): Explanation["conditions"] {
  return requiredDates(planned).map((resolved) => {
    const { column, side, blanks, intervals, recurring } = resolved.filter;
    return {
      column,
      side,
      blanks,
      parameters: appliedBy(resolved),
      intervals: intervals.map(intervalText),
      recurring: recurring.map(recurringSpanText),
    };
  });
}

function compoundOf(
  { filter, requested }: PlannedRequest,
  listing: ServedListing,
): CompoundExplained | null {
  return filter === null ? null : filterExplained(filter.raw, filter.query, requested, listing);
}

function fixedOf(
  { fixedQuery, fixedFilter }: PlannedRequest,
  listing: ServedListing,
): CompoundExplained | null {
  const { fixedFilter: fixed } = listing.declaration;
  return fixed === undefined ? null : filterExplained(fixed, fixedQuery, fixedFilter, listing);
}

function filterExplained(
  raw: string,
  query: Query,
  resolved: ResolvedQuery,
  { columns, declaration }: ServedListing,
): CompoundExplained {
  return {
    sent: raw,
    canonical: cql2Text(cql2OfQuery(query, columns)),
    sentence: queryInWords(query, resolved, namingOf(declaration)),
    contradictions: simplify(filterOfPart(query, resolved), columns).contradictions,
  };
}
