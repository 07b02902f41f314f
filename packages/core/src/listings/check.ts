import { findZone } from "../calendar/index.js";
import { failure, fault, placed, success, type Fault, type Result } from "../faults/index.js";
import { DATE_COMPARISONS, dateColumnFault, type Catalogue } from "../filters/index.js";
import {
  LARGEST_PAGE,
  RESERVED_PARAMETERS,
  type ListingDeclaration,
  type ParameterDeclaration,
} from "./declaration.js";
import { compileDateForm, type CompiledDateForm } from "../reading/index.js";
import { calendarSettings } from "../windows/index.js";
import { limitFaults } from "./limits.js";
import { nameFault } from "./names.js";
import { orderFaults } from "./order.js";

/**
 * Every fault of a declaration against the columns of its source, in the order of the
 * document, each with the path of its place.
 */
export function checkListing(listing: ListingDeclaration, columns: Catalogue): readonly Fault[] {
  return [
    nameFault(listing.name, "name"),
    ...zoneFaults(listing.zone),
    ...calendarFaults(listing),
    at("mainDate", dateColumnFault(listing.mainDate, columns)),
    ...listing.parameters.flatMap((parameter, index) =>
      parameterFaults(parameter, index, listing.parameters, columns),
    ),
    ...pairFaults(listing.parameters),
    ...formFaults(listing),
    ...listing.columns.map((name, index) => unknownColumn(name, `columns.${index}`, columns)),
    ...(listing.filter?.columns ?? []).map((name, index) =>
      unknownColumn(name, `filter.columns.${index}`, columns),
    ),
    ...orderFaults(listing, columns),
    ...pageFaults(listing),
  ].filter((found) => found !== null);
}

function zoneFaults(zone: string): readonly Fault[] {
  const found = findZone(zone);
  return found.ok ? [] : found.faults.map((each) => placed(each, { path: "zone" }));
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
  for (const [index, { name, accepts }] of listing.parameters.entries()) {
    const compiled = accepts === undefined ? null : compileDateForm(accepts);
    if (compiled?.ok === true) forms.set(name, compiled.value);
    const path = `parameters.${index}.accepts`;
    if (compiled?.ok === false)
      faults.push(...compiled.faults.map((each) => placed(each, { path })));
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
  moment: DATE_COMPARISONS,
  window: ["on", "notOn"],
};

function parameterFaults(
  parameter: ParameterDeclaration,
  index: number,
  all: readonly ParameterDeclaration[],
  columns: Catalogue,
): readonly (Fault | null)[] {
  const path = `parameters.${index}`;
  const { name, column } = parameter;
  const lower = name.toLowerCase();
  const taken = all.slice(0, index).some((other) => other.name.toLowerCase() === lower);
  const found = columns.get(column);
  const daysOnly = found?.type === "date" && found.kind === "date";
  return [
    nameFault(name, `${path}.name`),
    reservedFault(name, `${path}.name`),
    taken ? fault("name.taken", { name }, { path: `${path}.name`, value: name }) : null,
    at(`${path}.column`, dateColumnFault(column, columns)),
    COMPARISONS_OF[parameter.type].includes(parameter.comparison)
      ? null
      : fault(
          "parameter.comparison",
          { type: parameter.type, accepted: COMPARISONS_OF[parameter.type] },
          { path: `${path}.comparison`, value: parameter.comparison },
        ),
    ...fieldFaults(parameter, path, all),
    ...limitFaults(parameter.limits ?? {}).map((each) =>
      placed(each, { path: `${path}.limits.${each.path ?? ""}` }),
    ),
    parameter.type === "moment" && daysOnly
      ? fault("parameter.precision", { column }, { path: `${path}.type`, value: parameter.type })
      : null,
  ];
}

/** The parameters that carry a date's fields share the names of all others. */
function fieldFaults(
  { name, type, accepts, fields }: ParameterDeclaration,
  path: string,
  all: readonly ParameterDeclaration[],
): readonly (Fault | null)[] {
  const setting = (field: string, reason: string) =>
    fault("parameter.setting", { name: field, reason }, { path: `${path}.${field}` });
  const names = Object.entries(fields ?? {});
  const others = all.flatMap((each) =>
    each.name === name ? [] : [each.name, ...Object.values(each.fields ?? {})],
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
  return reserved.some((kept) => kept.toLowerCase() === name.toLowerCase())
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

/** Whether a comparison bounds the start of a stretch. */
export function isStart(comparison: ParameterDeclaration["comparison"]): boolean {
  return comparison === "from" || comparison === "after";
}

function isEnd(comparison: ParameterDeclaration["comparison"]): boolean {
  return comparison === "to" || comparison === "before";
}

function pageFaults({ page }: ListingDeclaration): readonly Fault[] {
  const fits = (size: number, most: number) => Number.isInteger(size) && size >= 1 && size <= most;
  const faults: Fault[] = [];
  if (!fits(page.most, LARGEST_PAGE)) {
    faults.push(fault("page.size", { least: 1, most: LARGEST_PAGE }, sizePlace("most", page.most)));
  }
  if (!fits(page.size, page.most)) {
    faults.push(fault("page.size", { least: 1, most: page.most }, sizePlace("size", page.size)));
  }
  return faults;
}

function sizePlace(field: string, value: number) {
  return { path: `page.${field}`, value: String(value) };
}

function unknownColumn(name: string, path: string, columns: Catalogue): Fault | null {
  if (columns.has(name)) return null;
  return fault("column.unknown", { name, known: [...columns.keys()] }, { path, value: name });
}

function at(path: string, found: Fault | null): Fault | null {
  return found === null ? null : placed(found, { path });
}
