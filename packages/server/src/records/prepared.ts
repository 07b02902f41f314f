import type {
  Cursor,
  CursorBinding,
  Envelope,
  EpochMs,
  Filter,
  PageQuery,
  PlannedRequest,
  StoredTable,
} from "@orisma/core/internal";
import type { Gateway } from "../database/index.js";
import type { ServedListing } from "../listings/index.js";
import type { Reader, RequestTable, SourceTable } from "./source-tables.js";

/** A request whose figures are being read. */
export type RunningRequest = Omit<PreparedRequest, "gateway" | "tables" | "everyTable"> & {
  readonly gateway: Reader;
  readonly tables: readonly RequestTable<Reader>[];
  readonly everyTable: readonly SourceTable<Reader>[];
};

/** A request to a listing, understood and ready to run. */
export interface PreparedRequest {
  readonly listing: ServedListing;
  /** The id of the caller's key. */
  readonly caller: string;
  readonly planned: PlannedRequest;
  readonly envelope: Envelope;
  /** The columns that are shown, in order: those that are made too. */
  readonly shown: readonly string[];
  /** The instant at which what is made is worked out. */
  readonly derivedAt: EpochMs;
  /** The tables that the request concerns: the only one of its source, or some of several. */
  readonly tables: readonly RequestTable[];
  /** And all that there are. */
  readonly everyTable: readonly SourceTable[];
  /** Whether the source consists of several tables, of which each is read on a snapshot of its own. */
  readonly isSeveral: boolean;
  /** The first of the tables, or what stands for all of them, and the way to it. */
  readonly table: StoredTable;
  readonly gateway: Gateway;
  readonly cursor: Cursor | null;
  /** What was requested, condition by condition, in stored units. */
  readonly filter: Filter;
  /** What the listing sets for every caller, likewise. */
  readonly fixed: Filter;
  /** Both together, put as simply as it can be, with the page's order, columns and counts. */
  readonly query: PageQuery;
  /** How long the answer may be held, in milliseconds; 0 for not at all. */
  readonly maxAgeMs: number;
  /** Milliseconds until the records can become others by the clock alone; Infinity for never. */
  readonly untilChangeMs: number;
  readonly binding: CursorBinding;
  readonly queryHash: string;
  /** The instant of the request, where what is shown depends on it. */
  readonly asOf: number | null;
}
