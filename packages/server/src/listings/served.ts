import {
  ISO_CALENDAR,
  UTC,
  calendarSettings,
  checkListing,
  findZone,
  listingForms,
  addedColumns,
  withJoin,
  withJoinedColumns,
  renderFault,
  type CalendarSettings,
  type Catalogue,
  type Column,
  type CompiledDateForm,
  type Fault,
  type ListingDeclaration,
  type AddedColumn,
  type RelatedSource,
  type StoredTable,
  type WindowsByName,
  type Zone,
} from "@orisma/core/internal";
import type { HolidayLists } from "../calendars/index.js";
import { Problem } from "../http/index.js";
import type { Override } from "./entities.js";
import type { KnownSource, Sources } from "../sources/index.js";

/** A listing ready to serve. */
export interface ServedListing {
  readonly declaration: ListingDeclaration;
  readonly version: number;
  readonly zone: Zone;
  readonly calendar: CalendarSettings;
  /** The forms that its parameters declare. */
  readonly forms: ReadonlyMap<string, CompiledDateForm>;
  /** Its source, whose table has the columns of its relations that a statement can read. */
  readonly source: KnownSource;
  /** The same without them. */
  readonly ofSource: KnownSource;
  /** The columns of the source, and those of its relations that its table has. */
  readonly columns: Catalogue;
  /** The windows that can be sent and declared by name. */
  readonly named: WindowsByName;
  /** The defaults that are set from outside its declaration, which has them in place of its own. */
  readonly overrides: readonly Override[];
  /** The columns shown, in order. */
  readonly shown: readonly string[];
  /** Those of them that are not of its source. */
  readonly derivedColumns: ReadonlyMap<string, AddedColumn>;
  /** The other sources that it shows, by their names. */
  readonly related: ReadonlyMap<string, KnownSource>;
}

/** What listings are served with beside their sources. */
export interface Surroundings {
  readonly holidays: HolidayLists;
  readonly named: WindowsByName;
  readonly overrides?: readonly Override[];
}

/** A declaration, and its version. */
interface DeclaredListing {
  readonly declaration: ListingDeclaration;
  readonly version: number;
}

/** Throws a problem where the source has changed so that the listing does not fit it any more. */
export function serve(
  held: DeclaredListing,
  source: KnownSource,
  sources: Sources,
  around: Surroundings,
): ServedListing {
  const { declaration } = held;
  const related = relatedOf(declaration, sources);
  const { named } = around;
  const beside = relatedColumns(related, source);
  const faults = checkListing(declaration, catalogueOf(source), { related: beside, named });
  if (faults.length > 0) {
    const detail = `This listing's declaration no longer fits its source: ${brokenText(faults)}`;
    throw new Problem("listing-broken", detail, faults);
  }
  return prepare(held, source, related, around);
}

/** What a listing is served with, found out once for all requests. */
export function prepare(
  { declaration, version }: DeclaredListing,
  source: KnownSource,
  related: ReadonlyMap<string, KnownSource>,
  { holidays, named, overrides = [] }: Surroundings,
): ServedListing {
  const ofSource = catalogueOf(source);
  const beside = relatedColumns(related, source);
  const columns = withJoinedColumns(ofSource, declaration, beside);
  const zone = findZone(declaration.zone);
  const derivedColumns = addedColumns(declaration, ofSource, beside);
  const all = [...columns.keys(), ...derivedColumns.keys()];
  const shown = declaration.columns.length > 0 ? declaration.columns : all;
  const settings = calendarSettings(holidays.withLists(declaration.calendar ?? {}));
  const forms = listingForms(declaration);
  return {
    declaration,
    version,
    zone: zone.ok ? zone.value : UTC,
    calendar: settings.ok ? settings.value : ISO_CALENDAR,
    forms: forms.ok ? forms.value : new Map(),
    source: { ...source, table: joinedTable(declaration, source, related) },
    ofSource: source,
    columns,
    named,
    overrides,
    shown,
    derivedColumns,
    related,
  };
}

/** Places that are named with what is wrong there. */
const MAX_PLACES = 3;

/** What does not fit, in words, each with where it stands; null where nothing is wrong. */
export function brokenText(faults: readonly Fault[]): string | null {
  if (faults.length === 0) return null;
  const places = new Map<string, string[]>();
  for (const each of faults) {
    const { message } = renderFault(each);
    places.set(message, [...(places.get(message) ?? []), each.path ?? ""]);
  }
  return [...places]
    .map(([message, all]) => {
      const paths = all.filter((path) => path !== "");
      const rest = paths.length - MAX_PLACES;
      const named = [
        ...paths.slice(0, MAX_PLACES),
        ...(rest > 0 ? [`${rest} more ${rest === 1 ? "place" : "places"}`] : []),
      ];
      return named.length === 0 ? message : `${message} (at ${named.join(", ")})`;
    })
    .join("; ");
}

/** The sources of a listing's relations, by name; one that is not there is missing. */
export function relatedOf(
  { relations = {} }: ListingDeclaration,
  sources: Pick<Sources, "get">,
): ReadonlyMap<string, KnownSource> {
  const found = Object.values(relations).flatMap(({ source: name }) => {
    const source = sources.get(name);
    return source === null ? [] : [[name, source] as const];
  });
  return new Map(found);
}

/** What a source's listing can be related to, by the names of the other sources. */
export function relatedColumns(
  related: ReadonlyMap<string, KnownSource>,
  source: KnownSource,
): ReadonlyMap<string, RelatedSource> {
  return new Map(
    [...related].map(([name, other]) => [
      name,
      {
        columns: catalogueOf(other),
        isKeyed: other.key !== null && other.partitionColumn === null && other.unnest === null,
        joinsBy: joinsBy(source, other),
      },
    ]),
  );
}

/**
 * The types of a column by which one statement can find the records of another source: both must lie in
 * one database. Strings of an attached one may be in any collation, and are looked up instead.
 */
function joinsBy(source: KnownSource, other: KnownSource): readonly ("text" | "integer")[] {
  const isPlain = [source, other].every(
    ({ partitionColumn, unnest }) => partitionColumn === null && unnest === null,
  );
  if (!isPlain || other.key === null || source.table === null || other.table === null) return [];
  if (source.imported !== null && other.imported !== null) return ["text", "integer"];
  const { attached } = other;
  if (attached === null || source.attached?.database !== attached.database) return [];
  const { type } = catalogueOf(other).get(other.key) ?? {};
  return type === "integer" ? ["integer"] : [];
}

/** The table of a source with the columns of a listing's relations that a statement can read. */
function joinedTable(
  { relations = {} }: ListingDeclaration,
  source: KnownSource,
  related: ReadonlyMap<string, KnownSource>,
): StoredTable | null {
  const columns = catalogueOf(source);
  return Object.entries(relations).reduce<StoredTable | null>((table, [name, relation]) => {
    const other = related.get(relation.source);
    if (table === null || other?.table == null) return table;
    const { type } = columns.get(relation.by) ?? {};
    if (!joinsBy(source, other).some((each) => each === type)) return table;
    const { imported: own, table: theirs } = other;
    const pickedColumns = relation.columns.filter((each) => theirs.columns.has(each));
    const key = own === null ? "integer" : "text";
    return withJoin(table, name, relation.by, { table: theirs, columns: pickedColumns, key });
  }, source.table);
}

export function catalogueOf({ columns }: KnownSource): Catalogue {
  return new Map(columns.map((column) => [column.name, column]));
}

/** A column that a listing shows: of its source, or made. */
export function shownColumn(
  name: string,
  { columns, derivedColumns }: Pick<ServedListing, "columns" | "derivedColumns">,
): Column {
  const found = columns.get(name);
  if (found !== undefined) return found;
  const other = derivedColumns.get(name);
  return other?.kind === "related" ? { ...other.column, name } : { name, type: "integer" };
}
