import type { ListingSent } from "@orisma/contract";
import {
  fault,
  defaultParameters,
  onlyDate,
  type ListingDeclaration,
  type ParameterDeclaration,
} from "@orisma/core/internal";
import { problemOf } from "../http/index.js";
import type { KnownSource } from "../sources/index.js";
import { catalogueOf } from "./served.js";

/** Records on a page unless the declaration says otherwise, and at most. */
const PAGE_SIZE = 50;
const LARGEST_PAGE_UNLESS_DECLARED = 500;

/**
 * A declaration with every default filled in. Text columns whose values are few are chosen from, unless the
 * listing has asked for a part of them before: callers go on as they did.
 */
export function complete(
  name: string,
  sent: ListingSent,
  source: KnownSource,
  before: ListingDeclaration | null,
): ListingDeclaration {
  const { unnest } = source;
  const columns = catalogueOf(source);
  const { title = name, zone, order, page, reversed, rows, calendar, ...others } = sent;
  const { source: _source, columns: _columns, parameters: _parameters, ...more } = others;
  const { mainDate = onlyDate(columns), ...rest } = more;
  if (mainDate === null) {
    const reason = `the source has several columns of dates, or none: name one of ${[...columns.keys()].join(", ")}`;
    throw problemOf([
      fault("parameter.setting", { name: "mainDate", reason }, { path: "mainDate" }),
    ]);
  }
  const shown = sent.columns.length > 0 ? sent.columns : [...columns.keys()];
  const few = fewOf(source);
  const parameters =
    sent.parameters ??
    defaultParameters(mainDate, shown, columns, few).map(
      (each) => textBefore(each, before) ?? each,
    );
  const allowed = order.allowed ?? [mainDate];
  const max = page.max ?? Math.max(LARGEST_PAGE_UNLESS_DECLARED, page.size ?? 0);
  return {
    name,
    title,
    source: sent.source,
    zone,
    mainDate,
    parameters,
    columns: sent.columns,
    order: { ...order, allowed, default: order.default ?? `-${allowed[0] ?? mainDate}` },
    page: { ...page, size: page.size ?? Math.min(PAGE_SIZE, max), max },
    reversed,
    ...(unnest === null ? {} : { rows: rows ?? rowsFor(sent, unnest, mainDate) }),
    ...rest,
    ...(calendar === undefined ? {} : { calendar }),
  };
}

/** The text columns of a source whose values are few. */
function fewOf({ imported }: KnownSource): ReadonlySet<string> {
  const columns = [...(imported?.columns ?? [])];
  return new Set(columns.flatMap(([name, { dictionary }]) => (dictionary === null ? [] : [name])));
}

/** The parameter of a text column as the listing had it before, where that was another default. */
function textBefore(
  { name, type, column }: ParameterDeclaration,
  before: ListingDeclaration | null,
): ParameterDeclaration | null {
  if (type !== "several" && type !== "text") return null;
  const same = before?.parameters.find((each) => each.name === name && each.column === column);
  const isDefault =
    (same?.type === "text" && same.comparison === "contains") ||
    (same?.type === "several" && same.comparison === "among");
  return isDefault ? same : null;
}

/** A record has no one place by a date that it has many of: by such one each value is a row. */
function rowsFor(
  { order }: ListingSent,
  { values }: NonNullable<KnownSource["unnest"]>,
  mainDate: string,
): NonNullable<ListingDeclaration["rows"]> {
  const isOrdered = order.default !== undefined || order.allowed !== undefined;
  return !isOrdered && mainDate in values ? "values" : "records";
}
