import type { ListingSent } from "@orisma/contract";
import { fault, defaultParameters, onlyDate, type ListingDeclaration } from "@orisma/core/internal";
import { problemOf } from "../http/index.js";
import type { KnownSource } from "../sources/index.js";
import { catalogueOf } from "./served.js";

/** Records on a page unless the declaration says otherwise, and at most. */
const PAGE_SIZE = 50;
const LARGEST_PAGE_UNLESS_DECLARED = 500;

/** A declaration with every default filled in. */
export function complete(name: string, sent: ListingSent, source: KnownSource): ListingDeclaration {
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
  const parameters = sent.parameters ?? defaultParameters(mainDate, shown, columns);
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

/** A record has no one place by a date that it has many of: by such one each value is a row. */
function rowsFor(
  { order }: ListingSent,
  { values }: NonNullable<KnownSource["unnest"]>,
  mainDate: string,
): NonNullable<ListingDeclaration["rows"]> {
  const isOrdered = order.default !== undefined || order.allowed !== undefined;
  return !isOrdered && mainDate in values ? "values" : "records";
}
