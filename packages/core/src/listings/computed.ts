import { wallAt, type EpochMs, type Zone } from "../calendar/index.js";
import type { Catalogue, Column, DateColumn } from "../filters/index.js";
import type { DateKind } from "../reading/index.js";
import {
  computedColumn,
  usualBlanks,
  type ComputedColumn,
  type OrderKey,
  type RecordOrder,
} from "../sql/index.js";
import { NOW, type DerivedColumn } from "./columns.js";

type Derived = Readonly<Record<string, DerivedColumn>>;

/** The columns that a derived one is worked out of. */
export function operandsOf(derived: DerivedColumn): readonly string[] {
  const names = derived.kind === "part" ? [derived.column] : [derived.from, derived.to];
  return names.filter((name) => name !== NOW);
}

/** When and where a column is derived. */
export interface DerivingContext {
  readonly columns: Catalogue;
  readonly asOf: EpochMs;
  readonly zone: Zone;
}

/** The derived columns whose numbers a database can work out: those of dates of one kind. */
export function derivedNumbers(derived: Derived, columns: Catalogue): ReadonlyMap<string, Column> {
  const found = Object.entries(derived).filter(([name, each]) => {
    const dates = operandsOf(each).map((operand) => columns.get(operand));
    const [first] = dates;
    return (
      !columns.has(name) &&
      first?.type === "date" &&
      dates.every((date) => date?.type === "date" && date.kind === first.kind)
    );
  });
  return new Map(found.map(([name]) => [name, { name, type: "integer" }]));
}

/**
 * An order in which days between now and a column of days are that column itself, the other way round
 * where they are the days until now: so an index serves.
 */
export function orderByColumns(
  { then, ...first }: RecordOrder,
  derived: Derived,
  columns: Catalogue,
): RecordOrder {
  const key = (each: OrderKey) => keyByColumn(each, derived, columns);
  const { column } = first;
  return {
    ...(column === null ? first : key({ ...first, column })),
    ...(then && { then: then.map(key) }),
  };
}

function keyByColumn(key: OrderKey, derived: Derived, columns: Catalogue): OrderKey {
  const each = columns.has(key.column) ? undefined : derived[key.column];
  if (each?.kind !== "days") return key;
  const [column, ...others] = operandsOf(each);
  const date = columns.get(column ?? "");
  if (others.length > 0 || date?.type !== "date" || date.kind !== "date") return key;
  const descending = key.descending === (each.from === NOW);
  return { column: date.name, descending, blanks: key.blanks ?? usualBlanks(key) };
}

/** The derived columns whose numbers a database can work out, as columns of a table at a moment. */
export function computedColumns(
  derived: Derived,
  { columns, asOf, zone }: DerivingContext,
): ReadonlyMap<string, ComputedColumn> {
  const known = derivedNumbers(derived, columns);
  const found = Object.entries(derived).filter(([name]) => known.has(name));
  return new Map(
    found.map(([name, each]) => {
      if (each.kind === "part") return [name, computedColumn(name, { ...each, zone })];
      const [operand = ""] = operandsOf(each);
      const { kind } = columns.get(operand) as DateColumn;
      const end = (of: string) => (of === NOW ? momentOf(kind, asOf, zone) : of);
      const ends = { from: end(each.from), to: end(each.to) };
      return [name, computedColumn(name, { kind: "days", ...ends, dates: kind })];
    }),
  );
}

/** A moment in milliseconds of a kind. */
export function momentOf(kind: DateKind, asOf: EpochMs, zone: Zone): number {
  return kind === "instant" ? asOf : wallAt(zone, asOf);
}
