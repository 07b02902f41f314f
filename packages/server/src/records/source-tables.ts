import {
  NOTHING,
  flattened,
  isNothing,
  withConstants,
  type Filter,
  type Moment,
  type NestedRows,
  type PageQuery,
  type Result,
  type Row,
  type StoredTable,
} from "@orisma/core/internal";
import type { Gateway } from "../database/index.js";
import { Problem, problemOf } from "../http/index.js";
import type { ServedListing } from "../listings/index.js";
import type { Sources } from "../sources/index.js";

/** Tables that one request may open. */
const MAX_TABLES = 1_000;
/** What requests need of the sources: the tables of each, and the way to them. */
export type RecordSources = Pick<Sources, "gatewayOf" | "membersOf">;

/** The same sources, whose queries are ended when a signal is aborted. */
export function abortable(sources: RecordSources, signal: AbortSignal): RecordSources {
  return {
    gatewayOf: async (source) => (await sources.gatewayOf(source)).withAbort(signal),
    membersOf: async (source, moment) =>
      (await sources.membersOf(source, moment)).map((partition) => ({
        ...partition,
        gateway: partition.gateway.withAbort(signal),
      })),
  };
}

/** The part of a gateway that reads: on a snapshot, or each time on a fresh one. */
export type Reader = Pick<Gateway, "read">;

/** The table of a source, or one of several, in which a request may find records. */
export interface SourceTable<G extends Reader = Gateway> {
  /** Distinguishes it from the others, and is a part of its records' ids; null for the only one. */
  readonly label: string | null;
  /** The cells that all of its records share: from where they come. */
  readonly cells: Row;
  readonly table: StoredTable;
  readonly gateway: G;
}

/** A table that a request concerns, and the conditions on it. */
export interface RequestTable<G extends Reader = Gateway> extends SourceTable<G> {
  /** What is left of the filter once the cells that its records share are known. */
  readonly filter: Filter;
}

/** What stands for a table where none can hold what is requested. */
export const NO_TABLE: Pick<RequestTable, "label" | "cells" | "filter"> = {
  label: "",
  cells: {},
  filter: NOTHING,
};

/** All tables of a source, as they are at a moment. */
export async function tablesOf(
  { source }: ServedListing,
  moment: Moment,
  rows: NestedRows | null,
  sources: RecordSources,
): Promise<readonly SourceTable[]> {
  if (source.partitionColumn !== null) return sources.membersOf(source, moment);
  const { table } = source;
  if (table === null) return [];
  const gateway = await sources.gatewayOf(source);
  return [{ label: null, cells: {}, table: rows === "values" ? flattened(table) : table, gateway }];
}

/**
 * The tables that can hold what a filter keeps; of several the others are not even opened. Throws a
 * problem where they are too many, or where the filter compares what says where a record lies.
 */
export function concernedTables<G extends Reader>(
  tables: readonly SourceTable<G>[],
  filter: Filter,
  { columns }: ServedListing,
): readonly RequestTable<G>[] {
  const concerned = tables.flatMap((each) => {
    if (each.label === null) return [{ ...each, filter }];
    const remaining = needed(withConstants(filter, each.cells, columns));
    return isNothing(remaining) ? [] : [{ ...each, filter: remaining }];
  });
  if (concerned.length <= MAX_TABLES) return concerned;
  const detail =
    `The request concerns ${concerned.length} tables, and ${MAX_TABLES} at most are opened; ` +
    "ask for a shorter window";
  throw new Problem("too-large", detail);
}

export function needed<T>(result: Result<T>): T {
  if (result.ok) return result.value;
  throw problemOf(result.faults);
}

/** The column of an order that is not the same in all records of a table; null for none. */
export function orderColumn({ order: { column } }: PageQuery, cells: Row): string | null {
  return column === null || cells[column] !== undefined ? null : column;
}

/** The query of one table: what its records share is known. */
export function tableQuery(
  query: PageQuery,
  { label, cells, filter }: Pick<RequestTable, "label" | "cells" | "filter">,
  { columns }: StoredTable,
): PageQuery {
  if (label === null) return { ...query, filter };
  const { column } = query.order;
  const isShared = column === null || cells[column] !== undefined || !columns.has(column);
  return {
    ...query,
    filter,
    columns: query.columns.filter((name) => cells[name] === undefined && columns.has(name)),
    order: { ...query.order, column: isShared ? null : column },
    counts: [],
  };
}
