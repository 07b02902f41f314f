import { decimalOf, type Filter, type NumberBound } from "../filters/index.js";

/** How a column's numbers are returned and sent: in units of which the stored ones are a decimal part. */
export interface ColumnUnit {
  /** Decimals of the unit outside: 2 where 19.99 is stored as 1999. */
  readonly scale: number;
}

/** Units by column. */
export type ColumnUnits = Readonly<Record<string, ColumnUnit>>;

/** Decimals of a unit at most. */
export const MAX_DECIMALS = 9;

const PLAIN = /^(-?)(\d+)(?:\.(\d+))?$/;

/** A number of the unit outside as it is stored, exactly: 19.99 is 1999 of a scale of 2. */
export function scaled(number: string, scale: number): string {
  const [, sign = "", whole = "", fraction = ""] = PLAIN.exec(number) ?? [];
  const digits = whole + fraction.padEnd(scale, "0");
  const at = whole.length + scale;
  return plain(sign, digits.slice(0, at), digits.slice(at));
}

/** A stored number in the unit outside, exactly; one too far from any that is written out, nearly. */
export function unscaled(stored: string, scale: number): string {
  const decimal = decimalOf(stored);
  if (decimal === null) return String(Number(stored) / 10 ** scale);
  const [, sign = "", whole = "", fraction = ""] = PLAIN.exec(decimal) ?? [];
  const digits = whole.padStart(scale + 1, "0");
  const at = digits.length - scale;
  return plain(sign, digits.slice(0, at), digits.slice(at) + fraction);
}

function plain(sign: string, whole: string, fraction: string): string {
  const digits = whole.replace(/^0+(?=\d)/, "");
  const rest = fraction.replace(/0+$/, "");
  const size = rest === "" ? digits : `${digits}.${rest}`;
  return size === "0" ? "0" : sign + size;
}

/** A filter with its numbers as they are stored. */
export function inStoredUnits(filter: Filter, units: ColumnUnits): Filter {
  switch (filter.kind) {
    case "all":
    case "any":
      return { ...filter, of: filter.of.map((each) => inStoredUnits(each, units)) };
    case "not":
      return { ...filter, of: inStoredUnits(filter.of, units) };
    case "number": {
      const unit = units[filter.column];
      if (unit === undefined) return filter;
      const bound = (each: NumberBound | null) =>
        each && { ...each, value: scaled(each.value, unit.scale) };
      return { ...filter, least: bound(filter.least), most: bound(filter.most) };
    }
    case "oneOf": {
      const unit = units[filter.column];
      if (unit === undefined) return filter;
      return { ...filter, values: filter.values.map((each) => scaled(each, unit.scale)) };
    }
    default:
      return filter;
  }
}
