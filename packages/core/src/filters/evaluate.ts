import { epochMs, findZone, type Edge, type Interval } from "../calendar/index.js";
import type { Cell, DateKind } from "../reading/index.js";
import { holdsAt, steadyWall } from "../windows/index.js";
import type { Catalogue } from "./columns.js";
import type { DateCondition, Filter, RecurringStretch } from "./filter.js";
import { pushNegation, type PlainFilter } from "./normalise.js";

/** A record as the evaluator sees it: the cells of its date columns, by name. */
export type Row = Readonly<Record<string, Cell>>;

/**
 * Whether a record satisfies a filter: the plain meaning of the tree, against which every
 * compiled query is held. Throws on a column that the catalogue lacks; check the tree first.
 */
export function evaluate(filter: Filter, row: Row, catalogue: Catalogue): boolean {
  return holds(pushNegation(filter), row, catalogue);
}

function holds(filter: PlainFilter, row: Row, catalogue: Catalogue): boolean {
  switch (filter.kind) {
    case "all":
      return filter.of.every((part) => holds(part, row, catalogue));
    case "any":
      return filter.of.some((part) => holds(part, row, catalogue));
    case "state":
      return (cellOf(row, filter.column).state === filter.state) === filter.is;
    case "date":
      return dateHolds(filter, row, catalogue);
  }
}

function dateHolds(condition: DateCondition, row: Row, catalogue: Catalogue): boolean {
  const cell = cellOf(row, condition.column);
  if (cell.state === "unreadable") return false;
  if (cell.state === "blank") return condition.blanks !== "leave";
  if (condition.blanks === "only") return false;
  const column = catalogue.get(condition.column);
  if (column?.type !== "date") throw new Error(`${condition.column} is no date column`);
  const { kind } = column;
  const isInside =
    condition.intervals.some((interval) => liesIn(cell.ms, interval, kind)) ||
    condition.recurring.some((stretch) => recursAt(cell.ms, stretch, kind));
  return isInside === (condition.side === "inside");
}

function liesIn(ms: number, { start, end }: Interval, kind: DateKind): boolean {
  const afterStart = start === null || ms >= face(start, kind);
  const beforeEnd = end === null || ms < face(end, kind);
  return afterStart && beforeEnd;
}

function recursAt(ms: number, stretch: RecurringStretch, kind: DateKind): boolean {
  const { interval, rules, weeks, zone } = stretch;
  if (!liesIn(ms, interval, kind)) return false;
  if (kind !== "instant") return holdsAt(rules, ms, weeks);
  const found = findZone(zone);
  if (!found.ok) throw new Error(`there is no zone ${zone}`);
  return holdsAt(rules, steadyWall(epochMs(ms), found.value), weeks);
}

/** The face of an edge that a column of a kind is compared with. */
export function face(edge: Edge, kind: DateKind): number {
  return kind === "instant" ? edge.instant : edge.wall;
}

function cellOf(row: Row, column: string): Cell {
  const cell = row[column];
  if (cell === undefined) throw new Error(`the record has no column ${column}`);
  return cell;
}
