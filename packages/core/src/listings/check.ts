import { findZone } from "../calendar/index.js";
import { fault, placed, type Fault } from "../faults/index.js";
import { dateColumnFault, type Catalogue } from "../filters/index.js";
import {
  LARGEST_PAGE,
  RESERVED_PARAMETERS,
  type ListingDeclaration,
  type ParameterDeclaration,
} from "./declaration.js";
import { nameFault } from "./names.js";

/**
 * Every fault of a declaration against the columns of its source, in the order of the
 * document, each with the path of its place.
 */
export function checkListing(listing: ListingDeclaration, columns: Catalogue): readonly Fault[] {
  return [
    nameFault(listing.name, "name"),
    ...zoneFaults(listing.zone),
    at("mainDate", dateColumnFault(listing.mainDate, columns)),
    ...listing.parameters.flatMap((parameter, index) =>
      parameterFaults(parameter, index, listing.parameters, columns),
    ),
    ...pairFaults(listing.parameters),
    ...listing.columns.map((name, index) => unknownColumn(name, `columns.${index}`, columns)),
    ...orderFaults(listing, columns),
    ...pageFaults(listing),
  ].filter((found) => found !== null);
}

function zoneFaults(zone: string): readonly Fault[] {
  const found = findZone(zone);
  return found.ok ? [] : found.faults.map((each) => placed(each, { path: "zone" }));
}

function parameterFaults(
  parameter: ParameterDeclaration,
  index: number,
  all: readonly ParameterDeclaration[],
  columns: Catalogue,
): readonly (Fault | null)[] {
  const path = `parameters.${index}`;
  const { name, column } = parameter;
  const reserved = RESERVED_PARAMETERS as readonly string[];
  const lower = name.toLowerCase();
  const taken = all.slice(0, index).some((other) => other.name.toLowerCase() === lower);
  const found = columns.get(column);
  const daysOnly = found?.type === "date" && found.kind === "date";
  return [
    nameFault(name, `${path}.name`),
    reserved.some((kept) => kept.toLowerCase() === lower)
      ? fault("name.reserved", { name, reserved }, { path: `${path}.name`, value: name })
      : null,
    taken ? fault("name.taken", { name }, { path: `${path}.name`, value: name }) : null,
    at(`${path}.column`, dateColumnFault(column, columns)),
    parameter.type === "moment" && daysOnly
      ? fault("parameter.precision", { column }, { path: `${path}.type`, value: parameter.type })
      : null,
  ];
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

function orderFaults({ order }: ListingDeclaration, columns: Catalogue): readonly (Fault | null)[] {
  const fallback = order.default.replace(/^-/, "");
  return [
    ...order.allowed.map((name, index) => {
      const path = `order.allowed.${index}`;
      const type = columns.get(name)?.type;
      return type === "text"
        ? fault("column.notOrdered", { name, type }, { path, value: name })
        : unknownColumn(name, path, columns);
    }),
    order.allowed.includes(fallback)
      ? null
      : fault(
          "order.unknown",
          { name: fallback, allowed: order.allowed },
          { path: "order.default", value: order.default },
        ),
  ];
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
