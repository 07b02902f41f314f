import type { EpochMs, Filter, PageQuery, PlannedRequest, StoredTable } from "@orisma/core";
import type { Gateway } from "../database/index.js";
import type { ServedListing } from "../listings/index.js";
import type { Cursor, CursorBinding } from "./cursor.js";
import type { Member } from "../sources/index.js";
import type { AskedMember } from "./members.js";
import type { Envelope } from "./envelope.js";

/** The part of a gateway that reads: on a snapshot, or each time on a fresh one. */
export type Reader = Pick<Gateway, "read">;

/** A request of which figures are asked. */
export type AskedRequest = Omit<PreparedRequest, "gateway"> & { readonly gateway: Reader };

/** A request to a listing, understood and ready to run. */
export interface PreparedRequest {
  readonly listing: ServedListing;
  /** The id of the caller's key. */
  readonly caller: string;
  /** The way to the records. */
  readonly gateway: Gateway;
  readonly table: StoredTable;
  readonly planned: PlannedRequest;
  readonly envelope: Envelope;
  /** The columns that are shown, in order: those that are made too. */
  readonly shown: readonly string[];
  /** The instant at which what is made is worked out. */
  readonly madeAt: EpochMs;
  /** For a source of several tables: those that the request concerns. */
  readonly members: readonly AskedMember[] | null;
  /** And all that there are. */
  readonly everyMember: readonly Member[] | null;
  readonly cursor: Cursor | null;
  /** What was asked for, with parts that recur laid out, condition by condition. */
  readonly filter: Filter;
  /** What the listing says for every caller, laid out likewise. */
  readonly fixed: Filter;
  /** Its filter keeps the same, put as simply as it can be. */
  readonly query: PageQuery;
  /** How long the answer may be held, in milliseconds; 0 for not at all. */
  readonly freshMs: number;
  readonly binding: CursorBinding;
  readonly queryHash: string;
  /** The instant of asking, where what is shown depends on it. */
  readonly asOf: number | null;
}
