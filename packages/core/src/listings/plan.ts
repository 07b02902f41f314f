import { epochMs, type EpochMs, type Zone } from "../calendar/index.js";
import { failure, fault, success, type Fault, type Result } from "../faults/index.js";
import { isEverything, type Catalogue, type Filter } from "../filters/index.js";
import type { CompiledDateForm } from "../reading/index.js";
import type { Claims } from "../query/index.js";
import type { RecordOrder } from "../sql/index.js";
import type { CalendarSettings, WindowsByName } from "../windows/index.js";
import type { Viewer } from "./context.js";
import { orderByColumns } from "./computed.js";
import { cursorFault, type Cursor, type CursorBinding } from "./cursor.js";
import type { ListingDeclaration, MomentParameter } from "./declaration.js";
import { derivedMovement } from "./derived.js";
import { readEnvelope, type Envelope } from "./envelope.js";
import { maxAge, untilChange } from "./max-age.js";
import { momentOf } from "./moment.js";
import type { PlannedRequest } from "./planned.js";
import { planRequest } from "./request.js";
import type { SentParameters } from "./sent.js";
import { neededFor, type AddedColumn } from "./shown.js";
import { inStoredUnits } from "./units.js";

/** A listing that can be planned for: its declaration, and what is known of its source. */
export interface KnownListing {
  readonly declaration: ListingDeclaration;
  readonly version: number;
  readonly zone: Zone;
  readonly calendar: CalendarSettings;
  /** The forms that its parameters declare. */
  readonly forms: ReadonlyMap<string, CompiledDateForm>;
  readonly columns: Catalogue;
  /** The windows that can be sent and declared by name; none by default. */
  readonly named?: WindowsByName;
  /** The columns shown, in order. */
  readonly shown: readonly string[];
  /** Those of them that are not of its source. */
  readonly derivedColumns: ReadonlyMap<string, AddedColumn>;
  readonly source: {
    readonly id: number;
    /** What the ids of its records are: another text is other ids. */
    readonly ids: string;
    /** The column that names the table of a record; null for a source of one table. */
    readonly partitionColumn: string | null;
    /** The columns that have several values in one record. */
    readonly unnest: { readonly values: Readonly<Record<string, unknown>> } | null;
  };
}

/** Who sends a request, when, and what it is planned with. */
export interface PlanningContext {
  /** The instant that it is. */
  readonly now: EpochMs;
  readonly caller: { readonly id: string; readonly name: string; readonly claims?: Claims };
  readonly viewer: Viewer;
  /** The reserved parameters that count only for some callers, and do for this one. */
  readonly allowed: readonly MomentParameter[];
  /** Reads a cursor's text; null for one that was not made here. */
  readonly readCursor: (text: string) => Cursor | null;
  /** A short hash of a text, so that a cursor is not taken for another query's. */
  readonly hash: (text: string) => string;
}

/** What a request to a listing comes to: all that is needed to run it, and nothing of a database. */
export interface Plan<L extends KnownListing = KnownListing> {
  /** The listing in the zone of the request. */
  readonly listing: L;
  readonly request: PlannedRequest;
  readonly envelope: Envelope;
  /** What was requested, in stored units. */
  readonly filter: Filter;
  /** What the listing sets for every caller, in stored units. */
  readonly fixed: Filter;
  /** Both together. */
  readonly whole: Filter;
  /** The order of the records that are read: from the other end where the page lies before its place. */
  readonly order: RecordOrder;
  readonly cursor: Cursor | null;
  readonly binding: CursorBinding;
  readonly queryHash: string;
  /** The columns that are shown, in order: those that are derived too. */
  readonly shown: readonly string[];
  /** The columns of the source that are read for them. */
  readonly read: readonly string[];
  /** The instant for which everything is worked out. */
  readonly asOf: EpochMs;
  /** The same where what is shown depends on it; else null. */
  readonly dependsOn: EpochMs | null;
  /** How long the answer may be kept, in milliseconds; 0 for not at all. */
  readonly maxAgeMs: number;
  /** Milliseconds until the records can become others by the clock alone; Infinity for never. */
  readonly untilChangeMs: number;
}

/**
 * Plans a request to a listing, without a database: what is requested inside of what the listing sets
 * for every caller, in which order, which page, which columns, and how long the answer may be kept.
 *
 * Fails with every fault of the request at once: those of {@link readEnvelope}, {@link momentOf}
 * and {@link planRequest}; where those find none, `order.perValue`, `order.severalTables` and those of
 * a cursor.
 */
export function planListing<L extends KnownListing>(
  declared: L,
  sent: SentParameters,
  context: PlanningContext,
): Result<Plan<L>> {
  const { calendar, forms, columns, derivedColumns, named: windows } = declared;
  const { now, allowed, viewer, caller } = context;
  const { envelope, faults } = readEnvelope(sent, declared.declaration, declared.shown);
  const held = envelope.cursor === null ? null : context.readCursor(envelope.cursor);
  const named = momentOf(sent, allowed, {
    asOf: epochMs(held?.asOf ?? now),
    zone: declared.zone,
    calendar,
  });
  // Where the instant cannot be read, its fault stands beside those of the request as it is now.
  const moment = named.ok ? named.value : { asOf: now, zone: declared.zone };
  const listing = inZone(declared, moment.zone);
  const { declaration } = listing;
  const planned = planRequest(declaration, sent, {
    ...moment,
    ...{ calendar, columns, forms, allowed: allowed, viewer },
    ...{ caller: caller.name, claims: caller.claims ?? {} },
    ...(windows && { named: windows }),
  });
  const all = [...(named.ok ? [] : named.faults), ...(planned.ok ? [] : planned.faults), ...faults];
  if (all.length > 0 || !planned.ok) return failure(...all);
  const request = planned.value;
  const { timeDependence } = request;
  const order = orderByColumns(request.order, declaration.derived ?? {}, columns);
  const [filter, fixed] = [request.requested, request.fixedFilter].map(({ filter: each }) =>
    inStoredUnits(each, declaration.units ?? {}),
  ) as [Filter, Filter];
  const whole = insideOf(fixed, filter);
  const binding: CursorBinding = {
    listing: declaration.name,
    caller: caller.id,
    version: listing.version,
    source: listing.source.id,
    ids: listing.source.ids,
    order: [order, ...(order.then ?? [])]
      .map((each) => databaseTypeOf(each.column, columns))
      .join(" "),
  };
  const queryHash = context.hash(JSON.stringify([whole, order, envelope.rows]));
  const misplaced = [
    ...placeFaults(order, envelope, listing),
    ...computedOrderFaults(order, listing),
    cursorFault(envelope.cursor, held, binding, queryHash),
  ].filter((each) => each !== null);
  if (misplaced.length > 0) return failure(...misplaced);
  const shown = (envelope.columns ?? listing.shown).filter((name) =>
    isShownIn(name, envelope, listing),
  );
  const stored = shown.filter((name) => !derivedColumns.has(name));
  const needed = neededFor(shown, derivedColumns).filter((name) => !stored.includes(name));
  const derived = derivedMovement(declaration.derived ?? {}, columns);
  return success({
    listing,
    request,
    envelope,
    filter,
    fixed,
    whole,
    order: held?.backward === true ? reversedOrder(order) : order,
    cursor: held,
    binding,
    queryHash,
    shown,
    read: [...stored, ...needed],
    asOf: moment.asOf,
    dependsOn: timeDependence === "never" && derived === "never" ? null : moment.asOf,
    untilChangeMs: untilChange(declaration, request, columns, { ...moment, calendar }),
    maxAgeMs: maxAge(declaration, request, columns, { ...moment, calendar }, now),
  });
}

/** A filter inside another. */
function insideOf(fixed: Filter, filter: Filter): Filter {
  return isEverything(fixed) ? filter : { kind: "all", of: [fixed, filter] };
}

/** The faults of records that cannot be put into such an order and pages. */
function placeFaults(
  { column, then }: RecordOrder,
  { rows, offset }: Envelope,
  { source, derivedColumns }: KnownListing,
): readonly Fault[] {
  const place = { parameter: "order" };
  if (source.partitionColumn !== null && offset !== null) {
    const facts = { accepted: "cursors: pages of several tables have no numbers" };
    return [fault("parameter.value", facts, { parameter: "page", value: "" })];
  }
  if (source.partitionColumn !== null && then !== undefined) {
    return [fault("order.severalTables", { column: column ?? "" }, place)];
  }
  if (rows !== "records") return [];
  return [column, ...(then ?? []).map((each) => each.column)].flatMap((by) =>
    by !== null && [by, ...neededFor([by], derivedColumns)].some((each) => isInside(each, source))
      ? [fault("order.perValue", { column: by }, place)]
      : [],
  );
}

/** Of several tables each works out its own numbers, by which they are not put in one order. */
function computedOrderFaults(
  { column, then = [] }: RecordOrder,
  { source, derivedColumns, declaration }: KnownListing,
): readonly Fault[] {
  if (source.partitionColumn === null) return [];
  const allowed = declaration.order.allowed.filter((each) => !derivedColumns.has(each));
  return [column, ...then.map((each) => each.column)].flatMap((name) =>
    name !== null && derivedColumns.has(name)
      ? [fault("order.unknown", { name, allowed }, { parameter: "order", value: name })]
      : [],
  );
}

/** Whether a column has several values in one record. */
function isInside(name: string, { unnest }: KnownListing["source"]): boolean {
  return unnest !== null && Object.hasOwn(unnest.values, name);
}

/**
 * Whether a column is shown in the rows that are requested: a record can have many of what is inside,
 * and of what is made of it; shown is the text that has them all.
 */
function isShownIn(
  name: string,
  { rows }: Envelope,
  { source, derivedColumns }: KnownListing,
): boolean {
  if (rows !== "records") return true;
  return [name, ...neededFor([name], derivedColumns)].every((each) => !isInside(each, source));
}

/** An order from its other end. */
function reversedOrder({ then, ...first }: RecordOrder): RecordOrder {
  return then === undefined ? reversed(first) : { ...reversed(first), then: then.map(reversed) };
}

function reversed<K extends Omit<RecordOrder, "then">>({ descending, blanks, ...key }: K) {
  const other = { ...key, descending: !descending };
  if (blanks === undefined) return other;
  return { ...other, blanks: blanks === "first" ? ("last" as const) : ("first" as const) };
}

/** What a column holds, for whoever compares with its values. */
function databaseTypeOf(name: string | null, columns: Catalogue): string {
  const column = name === null ? undefined : columns.get(name);
  if (column === undefined) return "";
  return column.type === "date" ? column.kind : column.type;
}

/** A listing whose days begin and end in another zone: its windows, its timeline, its words. */
function inZone<L extends KnownListing>(listing: L, zone: Zone): L {
  if (zone.id === listing.zone.id) return listing;
  const zones = inZones.get(listing) ?? new Map<string, KnownListing>();
  inZones.set(listing, zones);
  const held = zones.get(zone.id);
  if (held !== undefined) return held as L;
  const other = { ...listing, zone, declaration: { ...listing.declaration, zone: zone.id } };
  zones.set(zone.id, other);
  return other;
}

/** Made once for each zone: what is read of a declaration is held by it. */
const inZones = new WeakMap<KnownListing, Map<string, KnownListing>>();
