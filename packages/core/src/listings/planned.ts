import type { Notice } from "../faults/index.js";
import type { Query, ResolvedQuery, TimeDependence } from "../query/index.js";
import type { RecordOrder } from "../sql/index.js";
import type { GivenParameters } from "./given.js";
import type { ValueCondition } from "./values.js";

/** What a request to a listing comes to. */
export interface PlannedRequest {
  /** What the caller requested: parameters, defaults and the filter, as written. */
  readonly query: Query;
  /** The same at the moment of the request. */
  readonly requested: ResolvedQuery;
  /** What the listing sets for every caller, which all of it is inside of. */
  readonly fixedQuery: Query;
  readonly fixedFilter: ResolvedQuery;
  /** The parts of the fixed filter in words, as far as whoever asks may know of it. */
  readonly fixedWords: readonly string[];
  /** The conditions on values, by the parameters that they come from. */
  readonly values: readonly ValueCondition[];
  /** The caller's own filter in CQL2: as it came, and as a part of the query; null where there is none. */
  readonly filter: { readonly raw: string; readonly query: Query } | null;
  /** The defaults that took effect, by parameter. */
  readonly defaults: GivenParameters["defaults"];
  readonly order: RecordOrder;
  readonly notices: readonly Notice[];
  /** How the records depend on the instant of the request. */
  readonly timeDependence: TimeDependence;
}
