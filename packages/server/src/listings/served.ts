import {
  ISO_CALENDAR,
  UTC,
  calendarSettings,
  checkListing,
  findZone,
  listingForms,
  madeColumns,
  renderFault,
  type CalendarSettings,
  type Catalogue,
  type Column,
  type CompiledDateForm,
  type Fault,
  type ListingDeclaration,
  type MadeColumn,
  type RelatedSource,
  type WindowsByName,
  type Zone,
} from "@orisma/core/internal";
import type { HolidayLists } from "../calendars/index.js";
import { Problem } from "../http/index.js";
import type { KnownSource, Sources } from "../sources/index.js";

/** A listing ready to serve. */
export interface ServedListing {
  readonly declaration: ListingDeclaration;
  readonly version: number;
  readonly zone: Zone;
  readonly calendar: CalendarSettings;
  /** The forms that its parameters declare. */
  readonly forms: ReadonlyMap<string, CompiledDateForm>;
  readonly source: KnownSource;
  readonly columns: Catalogue;
  /** The windows that can be sent and declared by name. */
  readonly named: WindowsByName;
  /** The columns shown, in order. */
  readonly shown: readonly string[];
  /** Those of them that are not of its source. */
  readonly made: ReadonlyMap<string, MadeColumn>;
  /** The other sources that it shows, by their names. */
  readonly related: ReadonlyMap<string, KnownSource>;
}

/** What listings are served with beside their sources. */
export interface Surroundings {
  readonly holidays: HolidayLists;
  readonly named: WindowsByName;
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
  const columns = catalogueOf(source);
  const { named } = around;
  const faults = checkListing(declaration, columns, { related: relatedColumns(related), named });
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
  { holidays, named }: Surroundings,
): ServedListing {
  const columns = catalogueOf(source);
  const zone = findZone(declaration.zone);
  const made = madeColumns(declaration, relatedColumns(related));
  const all = [...columns.keys(), ...made.keys()];
  const shown = declaration.columns.length > 0 ? declaration.columns : all;
  const settings = calendarSettings(holidays.withLists(declaration.calendar ?? {}));
  const forms = listingForms(declaration);
  return {
    declaration,
    version,
    zone: zone.ok ? zone.value : UTC,
    calendar: settings.ok ? settings.value : ISO_CALENDAR,
    forms: forms.ok ? forms.value : new Map(),
    source,
    columns,
    named,
    shown,
    made,
    related,
  };
}

/** Places that are named with what is wrong there. */
const MOST_PLACES = 3;

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
      const rest = paths.length - MOST_PLACES;
      const named = [
        ...paths.slice(0, MOST_PLACES),
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

export function relatedColumns(
  related: ReadonlyMap<string, KnownSource>,
): ReadonlyMap<string, RelatedSource> {
  return new Map(
    [...related].map(([name, source]) => [
      name,
      {
        columns: catalogueOf(source),
        isKeyed: source.key !== null && source.whence === null && source.inside === null,
      },
    ]),
  );
}

export function catalogueOf({ columns }: KnownSource): Catalogue {
  return new Map(columns.map((column) => [column.name, column]));
}

/** A column that a listing shows: of its source, or made. */
export function shownColumn(
  name: string,
  { columns, made }: Pick<ServedListing, "columns" | "made">,
): Column {
  const found = columns.get(name);
  if (found !== undefined) return found;
  const other = made.get(name);
  return other?.kind === "related" ? { ...other.column, name } : { name, type: "integer" };
}
