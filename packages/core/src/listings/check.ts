import { UTC, epochMs, findZone, type EpochMs } from "../calendar/index.js";
import { failure, fault, withLocation, success, type Fault, type Result } from "../faults/index.js";
import {
  DATE_COMPARISONS,
  dateColumnFault,
  decimalOf,
  holdsNumbers,
  type Catalogue,
  type Column,
  type ColumnType,
} from "../filters/index.js";
import {
  LARGEST_PAGE,
  RESERVED_PARAMETERS,
  isEnd,
  isStart,
  takesDates,
  type DateParameter,
  type ListingDeclaration,
  type ParameterDeclaration,
  type ValueParameter,
  type ValueParameterType,
} from "./declaration.js";
import { withDerivedColumns } from "./derived-conditions.js";
import { compileDateForm, readBoolean, type CompiledDateForm } from "../reading/index.js";
import {
  ISO_CALENDAR,
  calendarSettings,
  phraseLocale,
  type WindowsByName,
} from "../windows/index.js";
import { cacheForFaults } from "./max-age.js";
import { resumeFaults } from "./resume.js";
import { NOW } from "./columns.js";
import { formatFaults } from "./format.js";
import { limitFaults } from "./limits.js";
import { editingFaults } from "./editing.js";
import { endpointFaults } from "./endpoint.js";
import { feedFaults } from "./feed.js";
import { nameFault } from "./names.js";
import { orderFaults } from "./order.js";
import { fixedFilter } from "./fixed-filter.js";
import { planRequest } from "./request.js";
import { addedColumns, withJoinedColumns, type RelatedSource } from "./shown.js";
import { MAX_DECIMALS } from "./units.js";

/** What a declaration is checked against beside the columns of its source. */
export interface CheckContext {
  /** The sources of its relations, by name; one that is not there is missing. */
  readonly related?: ReadonlyMap<string, RelatedSource>;
  /**
   * The instant at which defaults must lie within the limits of their parameters; null where it does
   * not matter, since a listing that serves goes on serving while the days pass.
   */
  readonly asOf?: EpochMs | null;
  /** The windows that can be declared by name; none by default. */
  readonly named?: WindowsByName;
}

/**
 * Every fault of a declaration against the columns of its source, in the order of the
 * document, each with the path of its place.
 */
export function checkListing(
  listing: ListingDeclaration,
  ofSource: Catalogue,
  { related = new Map(), asOf = null, named = new Map() }: CheckContext = {},
): readonly Fault[] {
  const columns = withJoinedColumns(ofSource, listing, related);
  const derivedColumns = addedColumns(listing, ofSource, related);
  const showable = new Map<string, Column>([
    ...columns,
    ...[...derivedColumns].map(([name, each]): [string, Column] => [
      name,
      each.kind === "related" ? { ...each.column, name } : { name, type: "integer" },
    ]),
  ]);
  const conditional = withDerivedColumns(columns, listing.derived ?? {});
  return [
    nameFault(listing.name, "name"),
    ...zoneFaults(listing.zone),
    ...calendarFaults(listing),
    at("mainDate", dateColumnFault(listing.mainDate, columns)),
    ...listing.parameters.flatMap((parameter, index) =>
      parameterFaults(
        parameter,
        index,
        listing.parameters,
        takesDates(parameter) ? columns : conditional,
      ),
    ),
    ...pairFaults(listing.parameters),
    ...formFaults(listing),
    ...derivedFaults(listing, columns),
    ...relationFaults(listing, ofSource, related),
    ...listing.columns.map((name, index) => unknownColumn(name, `columns.${index}`, showable)),
    ...formatFaults(listing, showable),
    ...(listing.filter === undefined || listing.filter.columns === "all"
      ? []
      : listing.filter.columns
    ).map((name, index) => unknownColumn(name, `filter.columns.${index}`, conditional)),
    ...orderFaults(listing, columns),
    ...pageFaults(listing),
    ...unitFaults(listing, columns),
    ...choiceFaults(listing, columns),
    ...Object.keys(listing.labels ?? {}).map((name) =>
      unknownColumn(name, `labels.${name}`, showable),
    ),
    ...cacheForFaults(listing),
    ...feedFaults(listing, columns, showable),
    ...endpointFaults(listing, showable),
    readersFault(listing),
    ...editingFaults(listing, { ofSource, window: contextOf(listing, columns) }),
    ...resumeFaults(listing, ofSource),
    phrasesFault(listing),
    ...originFaults(listing),
    ...fixedFaults(listing, columns, named),
    ...defaultFaults(listing, { columns, asOf, named }),
  ].filter((found) => found !== null);
}

function zoneFaults(zone: string): readonly Fault[] {
  const found = findZone(zone);
  return found.ok ? [] : found.faults.map((each) => withLocation(each, { path: "zone" }));
}

function calendarFaults({ calendar }: ListingDeclaration): readonly Fault[] {
  const found = calendarSettings(calendar ?? {});
  return found.ok ? [] : found.faults;
}

/**
 * The declared forms of a listing's parameters, ready for reading, by parameter. Fails as
 * `compileDateForm` does, with the path of each form.
 */
export function listingForms(
  listing: ListingDeclaration,
): Result<ReadonlyMap<string, CompiledDateForm>> {
  const faults: Fault[] = [];
  const forms = new Map<string, CompiledDateForm>();
  for (const [index, parameter] of listing.parameters.entries()) {
    const { name } = parameter;
    const accepts = takesDates(parameter) ? parameter.accepts : undefined;
    const compiled = accepts === undefined ? null : compileDateForm(accepts);
    if (compiled?.ok === true) forms.set(name, compiled.value);
    const path = `parameters.${index}.accepts`;
    if (compiled?.ok === false)
      faults.push(...compiled.faults.map((each) => withLocation(each, { path })));
  }
  return faults.length > 0 ? failure(...faults) : success(forms);
}

function formFaults(listing: ListingDeclaration): readonly Fault[] {
  const forms = listingForms(listing);
  return forms.ok ? [] : forms.faults;
}

/** The comparisons that each type of parameter allows for. */
export const COMPARISONS_OF: Readonly<
  Record<ParameterDeclaration["type"], readonly ParameterDeclaration["comparison"][]>
> = {
  date: DATE_COMPARISONS,
  datetime: DATE_COMPARISONS,
  window: ["on", "notOn"],
  integer: ["is", "isNot", "atLeast", "above", "atMost", "below"],
  decimal: ["is", "isNot", "atLeast", "above", "atMost", "below"],
  range: ["within", "outside"],
  text: ["is", "isNot", "contains", "lacks", "begins", "ends"],
  search: ["contains"],
  boolean: ["is", "isNot"],
  oneOf: ["is", "isNot"],
  several: ["among", "noneOf"],
};

/** The types of columns that each type of parameter of values speaks of. */
const COLUMNS_OF: Readonly<Record<ValueParameterType, readonly ColumnType[]>> = {
  integer: ["integer", "decimal"],
  decimal: ["integer", "decimal"],
  range: ["integer", "decimal"],
  text: ["text"],
  search: ["text"],
  boolean: ["boolean"],
  oneOf: ["text", "integer", "decimal"],
  several: ["text", "integer", "decimal"],
};

function parameterFaults(
  parameter: ParameterDeclaration,
  index: number,
  all: readonly ParameterDeclaration[],
  columns: Catalogue,
): readonly (Fault | null)[] {
  const path = `parameters.${index}`;
  const { name } = parameter;
  const lower = name.toLowerCase();
  const taken = all.slice(0, index).some((other) => other.name.toLowerCase() === lower);
  return [
    nameFault(name, `${path}.name`),
    reservedFault(name, `${path}.name`),
    taken ? fault("name.taken", { name }, { path: `${path}.name`, value: name }) : null,
    COMPARISONS_OF[parameter.type].includes(parameter.comparison)
      ? null
      : fault(
          "parameter.comparison",
          { type: parameter.type, accepted: COMPARISONS_OF[parameter.type] },
          { path: `${path}.comparison`, value: parameter.comparison },
        ),
    ...(takesDates(parameter)
      ? dateParameterFaults(parameter, path, all, columns)
      : valueParameterFaults(parameter, path, columns)),
  ];
}

function dateParameterFaults(
  parameter: DateParameter,
  path: string,
  all: readonly ParameterDeclaration[],
  columns: Catalogue,
): readonly (Fault | null)[] {
  const { column } = parameter;
  const found = columns.get(column);
  const daysOnly = found?.type === "date" && found.kind === "date";
  return [
    at(`${path}.column`, dateColumnFault(column, columns)),
    ...fieldFaults(parameter, path, all),
    ...limitFaults(parameter.limits ?? {}).map((each) =>
      withLocation(each, { path: `${path}.limits.${each.path ?? ""}` }),
    ),
    parameter.type === "datetime" && daysOnly
      ? fault("parameter.precision", { column }, { path: `${path}.type`, value: parameter.type })
      : null,
  ];
}

function valueParameterFaults(
  parameter: ValueParameter,
  path: string,
  columns: Catalogue,
): readonly (Fault | null)[] {
  const { type, column, columns: several, values, pair } = parameter;
  const setting = (field: string, reason: string) =>
    fault("parameter.setting", { name: field, reason }, { path: `${path}.${field}` });
  const isSearch = type === "search";
  const isText = type === "text" || isSearch || type === "oneOf" || type === "several";
  const typed = (name: string, place: string): Fault | null => {
    const found = columns.get(name)?.type;
    if (found === undefined) return unknownColumn(name, place, columns);
    if (COLUMNS_OF[type].includes(found)) return null;
    const facts = { parameter: type, column: name, type: found, accepted: COLUMNS_OF[type] };
    return fault("parameter.column", facts, { path: place, value: name });
  };
  return [
    isSearch === (column === undefined)
      ? null
      : setting("column", isSearch ? "a search has columns, and not one" : "it is wanted"),
    isSearch === (several !== undefined)
      ? null
      : setting("columns", isSearch ? "they are wanted" : "only a search has several"),
    ...(column === undefined ? [] : [typed(column, `${path}.column`)]),
    ...(several ?? []).map((name, index) => typed(name, `${path}.columns.${index}`)),
    isSearch && parameter.blanks !== "exclude"
      ? setting("blanks", "a search is of several columns, of which some may be blank")
      : null,
    values !== undefined && type !== "oneOf" && type !== "several"
      ? setting("values", "only what is chosen has values to choose from")
      : null,
    parameter.caseSensitive !== undefined && !isText
      ? setting("caseSensitive", "only text has letters")
      : null,
    pair !== undefined && type !== "integer" && type !== "decimal"
      ? setting("pair", "only dates and numbers are the ends of a range")
      : null,
  ];
}

/** The parameters that carry a date's fields share the names of all others. */
function fieldFaults(
  { name, type, accepts, fields }: DateParameter,
  path: string,
  all: readonly ParameterDeclaration[],
): readonly (Fault | null)[] {
  const setting = (field: string, reason: string) =>
    fault("parameter.setting", { name: field, reason }, { path: `${path}.${field}` });
  const names = Object.entries(fields ?? {});
  const others = all.flatMap((each) =>
    each.name === name
      ? []
      : [each.name, ...Object.values(takesDates(each) ? (each.fields ?? {}) : {})],
  );
  const taken = [name, ...others].map((each) => each.toLowerCase());
  return [
    type === "window" && accepts !== undefined
      ? setting("accepts", "a window is written in the notation of windows alone")
      : null,
    type === "window" && fields !== undefined
      ? setting("fields", "a window has no year, month and day")
      : null,
    names.length > 0 && fields?.year === undefined
      ? setting("fields", "a date has a year at least")
      : null,
    fields?.day !== undefined && fields.month === undefined
      ? setting("fields", "a day needs a month")
      : null,
    ...names.flatMap(([field, value], index) => {
      const place = `${path}.fields.${field}`;
      const twice = names.slice(0, index).some(([, other]) => other === value);
      return [
        nameFault(value, place),
        reservedFault(value, place),
        twice || taken.includes(value.toLowerCase())
          ? fault("name.taken", { name: value }, { path: place, value })
          : null,
      ];
    }),
  ];
}

function reservedFault(name: string, path: string): Fault | null {
  const reserved = RESERVED_PARAMETERS as readonly string[];
  return reserved.some((reservedName) => reservedName.toLowerCase() === name.toLowerCase())
    ? fault("name.reserved", { name, reserved }, { path, value: name })
    : null;
}

function pairFaults(parameters: readonly ParameterDeclaration[]): readonly Fault[] {
  const pairs = new Set(parameters.flatMap(({ pair }) => (pair === undefined ? [] : [pair])));
  return [...pairs].flatMap((pair) => {
    const members = parameters.filter((parameter) => parameter.pair === pair);
    const starts = members.filter(({ comparison }) => isStart(comparison));
    const ends = members.filter(({ comparison }) => isEnd(comparison));
    const columns = new Set(members.map(({ column }) => column));
    const complete =
      members.length === 2 && starts.length === 1 && ends.length === 1 && columns.size === 1;
    return complete
      ? []
      : [fault("pair.incomplete", { pair }, { path: "parameters", value: pair })];
  });
}

/** A column that is made has a name of its own. */
function derivedNameFaults(
  name: string,
  path: string,
  columns: Catalogue,
): readonly (Fault | null)[] {
  const lower = name.toLowerCase();
  const isTaken = [...columns.keys()].some((each) => each.toLowerCase() === lower);
  return [
    nameFault(name, path),
    isTaken ? fault("name.taken", { name }, { path, value: name }) : null,
  ];
}

function derivedFaults(
  { derived = {} }: ListingDeclaration,
  columns: Catalogue,
): readonly (Fault | null)[] {
  return Object.entries(derived).flatMap(([name, each]) => {
    const path = `derived.${name}`;
    const names = derivedNameFaults(name, path, columns);
    if (each.kind === "part") {
      const place = `${path}.column`;
      const column = columns.get(each.column);
      const hasNoTime = column?.type === "date" && column.kind === "date" && each.part === "hour";
      return [
        ...names,
        at(place, dateColumnFault(each.column, columns)),
        hasNoTime
          ? fault("column.finerThanDay", { name: each.column, text: "an hour" }, { path: place })
          : null,
      ];
    }
    const ends = [each.from, each.to].map((end) => (end === NOW ? null : columns.get(end)));
    const [first, last] = ends;
    const isMixed = first?.type === "date" && last?.type === "date" && first.kind !== last.kind;
    const facts = (reason: string) => fault("parameter.setting", { name, reason }, { path });
    return [
      ...names,
      each.from === NOW && each.to === NOW ? facts("one end at least is a column") : null,
      each.from === NOW ? null : at(`${path}.from`, dateColumnFault(each.from, columns)),
      each.to === NOW ? null : at(`${path}.to`, dateColumnFault(each.to, columns)),
      isMixed
        ? facts("days, wall-clock times and instants have no days between one another")
        : null,
    ];
  });
}

function relationFaults(
  { relations = {} }: ListingDeclaration,
  columns: Catalogue,
  related: ReadonlyMap<string, RelatedSource>,
): readonly (Fault | null)[] {
  return Object.entries(relations).flatMap(([name, { source, by, columns: shown }]) => {
    const path = `relations.${name}`;
    const other = related.get(source);
    const type = columns.get(by)?.type;
    const isKey = type === undefined || type === "text" || type === "integer";
    const keyless = "its records have no key of their own, or lie in several tables";
    return [
      nameFault(name, path),
      unknownColumn(by, `${path}.by`, columns),
      isKey ? null : fault("column.notText", { name: by, type }, { path: `${path}.by`, value: by }),
      other === undefined
        ? fault(
            "name.unknown",
            { what: "source", name: source, known: [...related.keys()] },
            { path: `${path}.source`, value: source },
          )
        : null,
      other?.isKeyed === false
        ? fault("parameter.setting", { name: source, reason: keyless }, { path: `${path}.source` })
        : null,
      ...shown.flatMap((each, index) => {
        const place = `${path}.columns.${index}`;
        const full = `${name}.${each}`;
        return [
          other === undefined ? null : unknownColumn(each, place, other.columns),
          columns.has(full)
            ? fault("name.taken", { name: full }, { path: place, value: each })
            : null,
        ];
      }),
    ];
  });
}

/** Values of a group that their column can never have. */
function choiceFaults(
  { choices = {} }: ListingDeclaration,
  columns: Catalogue,
): readonly (Fault | null)[] {
  return Object.entries(choices).flatMap(([name, offer]) => {
    const path = `choices.${name}`;
    const column = columns.get(name);
    // Dates are offered as dates, never as a list of values.
    if (column?.type === "date") {
      const { blanks: _blanks, calendar: _calendar, windows: _windows, ...ofValues } = offer;
      const [first] = Object.keys(ofValues);
      if (first === undefined) return [];
      const place = { path: `${path}.${first}`, value: name };
      return [fault("column.notChosen", { name, type: "dates" }, place)];
    }
    const ofDates = (["calendar", "windows"] as const)
      .filter((setting) => column !== undefined && offer[setting] !== undefined)
      .map((setting) => {
        const facts = { name: setting, reason: `only a column of dates has it, not ${name}` };
        return fault("parameter.setting", facts, { path: `${path}.${setting}`, value: name });
      });
    const { groups = {} } = offer;
    const known = Object.entries(groups).flatMap(([group, values]) =>
      values.map((value) => {
        const text = String(value);
        const place = { path: `${path}.groups.${group}`, value: text };
        if (column?.type === "boolean" && readBoolean(text) === null) {
          return fault("boolean.form", { text }, place);
        }
        return holdsNumbers(column) && decimalOf(text) === null
          ? fault("number.form", { text, type: "decimal" }, place)
          : null;
      }),
    );
    return [unknownColumn(name, path, columns), ...ofDates, ...known];
  });
}

function unitFaults({ units = {} }: ListingDeclaration, columns: Catalogue): readonly Fault[] {
  return Object.entries(units).flatMap(([column, { scale }]) => {
    const path = `units.${column}`;
    const unknown = unknownColumn(column, path, columns);
    if (unknown !== null) return [unknown];
    const found = columns.get(column);
    const isRight = Number.isInteger(scale) && scale >= 1 && scale <= MAX_DECIMALS;
    if (holdsNumbers(found) && isRight) return [];
    return [fault("unit.form", { column, type: found?.type ?? "nothing" }, { path })];
  });
}

/** A language whose phrases are not known. */
function phrasesFault({ phrases }: ListingDeclaration): Fault | null {
  if (typeof phrases !== "string") return null;
  const found = phraseLocale(phrases);
  const [wrong] = found.ok ? [] : found.faults;
  return wrong === undefined ? null : withLocation(wrong, { path: "phrases", value: phrases });
}

/** A listing that anybody may read has no readers by name. */
function readersFault({ public: isPublic, allow }: ListingDeclaration): Fault | null {
  if (isPublic !== true || allow?.read === undefined) return null;
  const reason = "anybody may read a public listing: omit one of the two";
  return fault("parameter.setting", { name: "read", reason }, { path: "allow.read" });
}

/** An origin (RFC 6454, section 6.2) is a scheme, a host and a port, and nothing behind them. */
function originFaults({ allowedOrigins = [] }: ListingDeclaration): readonly Fault[] {
  return allowedOrigins.flatMap((text, index) => {
    if (/^https?:\/\/[^\s/?#@A-Z]+$/.test(text)) return [];
    const reason =
      "an origin is written as browsers send it: https://host or http://host:port in small letters, without a path";
    return [
      fault(
        "parameter.setting",
        { name: text, reason },
        { path: `allowedOrigins.${index}`, value: text },
      ),
    ];
  });
}

/** The condition that no caller can change, read as at some moment. */
function fixedFaults(
  listing: ListingDeclaration,
  columns: Catalogue,
  named: WindowsByName,
): readonly Fault[] {
  const { fixedFilter: fixed, describeFixedFilter: described } = listing;
  const name = "describeFixedFilter";
  if (described !== undefined && fixed === undefined) {
    const reason = "it requires the filter that it describes, fixedFilter";
    return [fault("parameter.setting", { name, reason }, { path: name })];
  }
  if (typeof described === "string" && described.trim() === "") {
    const reason = "it is true, false, or words that are shown in place of the filter's own";
    return [fault("parameter.setting", { name, reason }, { path: name, value: described })];
  }
  const read = fixedFilter(listing, { ...contextOf(listing, columns), named });
  return read.ok ? [] : read.faults;
}

/** Defaults are read as if they had been sent. */
function defaultFaults(
  listing: ListingDeclaration,
  {
    columns,
    asOf,
    named,
  }: {
    readonly columns: Catalogue;
    readonly asOf: EpochMs | null;
    readonly named: WindowsByName;
  },
): readonly Fault[] {
  if (listing.parameters.every((parameter) => parameter.default === undefined)) return [];
  const forms = listingForms(listing);
  const planned = planRequest(
    { ...listing, parameters: listing.parameters.map((each) => ({ ...each, required: false })) },
    new Map(),
    {
      ...contextOf(listing, columns),
      named,
      asOf: asOf ?? epochMs(0),
      forms: forms.ok ? forms.value : new Map(),
    },
  );
  if (planned.ok) return [];
  return planned.faults.flatMap((found) => {
    const index = listing.parameters.findIndex(({ name }) => name === found.parameter);
    if (asOf === null && found.code === "window.outOfLimits") return [];
    return index < 0 ? [] : [withLocation(found, { path: `parameters.${index}.default` })];
  });
}

function contextOf({ zone, calendar }: ListingDeclaration, columns: Catalogue) {
  const [found, settings] = [findZone(zone), calendarSettings(calendar ?? {})];
  return {
    asOf: epochMs(0),
    zone: found.ok ? found.value : UTC,
    calendar: settings.ok ? settings.value : ISO_CALENDAR,
    columns,
    caller: "caller",
    allowed: [],
  };
}

function pageFaults({ page }: ListingDeclaration): readonly Fault[] {
  const fits = (size: number, most: number) => Number.isInteger(size) && size >= 1 && size <= most;
  const faults: Fault[] = [];
  if (!fits(page.max, LARGEST_PAGE)) {
    faults.push(fault("page.size", { least: 1, most: LARGEST_PAGE }, sizePlace("max", page.max)));
  }
  if (!fits(page.size, page.max)) {
    faults.push(fault("page.size", { least: 1, most: page.max }, sizePlace("size", page.size)));
  }
  return faults;
}

function sizePlace(field: string, value: number) {
  return { path: `page.${field}`, value: String(value) };
}

function unknownColumn(
  name: string,
  path: string,
  columns: ReadonlyMap<string, unknown>,
): Fault | null {
  if (columns.has(name)) return null;
  return fault("column.unknown", { name, known: [...columns.keys()] }, { path, value: name });
}

function at(path: string, found: Fault | null): Fault | null {
  return found === null ? null : withLocation(found, { path });
}
