import { failure, fault, success, type Fault, type Result } from "../faults/index.js";
import type { Catalogue } from "../filters/index.js";
import { orderKeyOf, type RecordOrder } from "../sql/index.js";
import { derivedNumbers } from "./computed.js";
import type { ListingDeclaration } from "./declaration.js";
import type { SentParameters } from "./sent.js";
import { listFault } from "./value-list.js";

/** Columns that one order may name. */
export const MAX_ORDERED = 8;

/**
 * The order of a request: the columns that it names, else the listing's own; then those of the
 * listing's ties that it does not name.
 *
 * Fails with `order.unknown` for a column that callers may not order by, `order.repeated` for one
 * that is named twice and `order.tooMany`.
 */
export function planOrder(listing: ListingDeclaration, sent: SentParameters): Result<RecordOrder> {
  const { allowed, tieBreakers = [], blanks } = listing.order;
  const requested = (sent.get("order") ?? [])
    .map((each) => each.trim())
    .filter((each) => each !== "");
  const strings = requested.length === 0 ? [listing.order.default] : requested;
  const faults = orderFaultsOf(strings, allowed, { parameter: "order" });
  if (faults.length > 0) return failure(...faults);
  const named = strings.map(orderKeyOf);
  const others = tieBreakers
    .map(orderKeyOf)
    .filter(({ column }) => named.every((each) => each.column !== column));
  const [first, ...then] = [...named, ...others].map((key) =>
    blanks === undefined ? key : { ...key, blanks },
  );
  if (first === undefined) return success({ column: null, descending: false });
  return success(then.length === 0 ? first : { ...first, then });
}

function orderFaultsOf(
  strings: readonly string[],
  allowed: readonly string[],
  place: { readonly parameter: string } | { readonly path: string },
): readonly Fault[] {
  const columns = strings.map((text) => orderKeyOf(text).column);
  if (strings.length > MAX_ORDERED) {
    return [fault("order.tooMany", { most: MAX_ORDERED }, { ...place, value: strings.join(", ") })];
  }
  return strings.flatMap((text, index) => {
    const column = columns[index] ?? "";
    if (!allowed.includes(column)) {
      const isAllowed = (each: string) => allowed.includes(orderKeyOf(each).column);
      const list = "parameter" in place ? listFault(place.parameter, text, isAllowed) : null;
      if (list !== null) return [list];
      return [fault("order.unknown", { name: text, allowed }, { ...place, value: text })];
    }
    return columns.indexOf(column) < index
      ? [fault("order.repeated", { column }, { ...place, value: text })]
      : [];
  });
}

/** The faults of a declared order, each with the path of its place. */
export function orderFaults(
  { order, derived = {} }: ListingDeclaration,
  columns: Catalogue,
): readonly (Fault | null)[] {
  const known = [...columns.keys()];
  const all = new Set([...known, ...derivedNumbers(derived, columns).keys()]);
  const fallback = orderFaultsOf([order.default], order.allowed, { path: "order.default" });
  return [
    ...order.allowed.map((name, index) =>
      all.has(name)
        ? null
        : fault(
            "column.unknown",
            { name, known: [...all] },
            { path: `order.allowed.${index}`, value: name },
          ),
    ),
    ...fallback,
    ...orderFaultsOf(order.tieBreakers ?? [], known, { path: "order.tieBreakers" }),
  ];
}

/** An order in words. */
export function orderInWords(
  { mainDate, labels = {} }: ListingDeclaration,
  { then = [], ...first }: RecordOrder,
): string {
  const words = [first, ...then].map(({ column, descending }) => {
    if (column === mainDate) return descending ? "latest first" : "earliest first";
    const name = column === null ? "key" : (labels[column] ?? column);
    return `by ${name}, ${descending ? "descending" : "ascending"}`;
  });
  return words.join(", then ");
}
