import { MS_PER_DAY, epochMs, findZone, type Edge, type Interval } from "../calendar/index.js";
import type { Cell, DateKind } from "../reading/index.js";
import { holdsAt, steadyWall } from "../windows/index.js";
import type { Catalogue, Column } from "./columns.js";
import { compareDecimals, type Decimal } from "./decimal.js";
import type {
  BlankPolicy,
  BooleanCondition,
  ColumnsCondition,
  DateCondition,
  DaysCondition,
  Filter,
  NumberCondition,
  OneOfCondition,
  OrderComparison,
  OverlapCondition,
  RecurringStretch,
  TextCondition,
} from "./filter.js";
import { foldText, isBlankText } from "./fold.js";
import { pushNegation, type PlainFilter } from "./normalise.js";
import { hasForm } from "./pattern.js";
import { isRelated } from "./relations.js";

/**
 * A cell of a column that holds no dates: a text as it is, a number as {@link Decimal}, `true` or
 * `false`.
 */
export interface FilledCell {
  readonly state: "filled";
  readonly value: string;
}

/** A record as the evaluator sees it: its cells, by the names of their columns. */
export type Row = Readonly<Record<string, Cell | FilledCell>>;

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
      return (stateOf(cellOf(row, filter.column)) === filter.state) === filter.is;
    case "date":
      return dateHolds(filter, row, catalogue);
    case "number":
      return valueHolds(filter, row, (value) => isWithin(value, filter));
    case "text":
      return valueHolds(filter, row, (value) => hasForm(cased(value, filter), patternOf(filter)));
    case "oneOf":
      return valueHolds(filter, row, (value) => isAmong(value, filter, catalogue));
    case "boolean":
      return valueHolds(filter, row, (value) => value === "true");
    case "overlap":
      return overlapHolds(filter, row, catalogue);
    case "days":
      return daysHold(filter, row, catalogue);
    case "columns":
      return columnsHold(filter, row, catalogue);
  }
}

/** A text of nothing but white space is blank, like a cell without anything. */
function stateOf(cell: Cell | FilledCell): "dated" | "blank" | "unreadable" {
  if (cell.state !== "filled") return cell.state;
  return isBlankText(cell.value) ? "blank" : "dated";
}

/** What becomes of a cell that holds no value; null for one that does. */
function withoutValue(cell: Cell | FilledCell, blanks: BlankPolicy): boolean | null {
  const state = stateOf(cell);
  if (state === "unreadable") return false;
  if (state === "blank") return blanks !== "leave";
  return blanks === "only" ? false : null;
}

function dateHolds(condition: DateCondition, row: Row, catalogue: Catalogue): boolean {
  const cell = cellOf(row, condition.column);
  const known = withoutValue(cell, condition.blanks);
  if (known !== null) return known;
  const ms = msOf(cell);
  const kind = kindOf(condition.column, catalogue);
  const isInside =
    condition.intervals.some((interval) => liesIn(ms, interval, kind)) ||
    condition.recurring.some((stretch) => recursAt(ms, stretch, kind));
  return isInside === (condition.side === "inside");
}

function liesIn(ms: number, { start, end }: Interval, kind: DateKind): boolean {
  const afterStart = start === null || ms >= edgeValue(start, kind);
  const beforeEnd = end === null || ms < edgeValue(end, kind);
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

function valueHolds(
  condition: NumberCondition | TextCondition | OneOfCondition | BooleanCondition,
  row: Row,
  describes: (value: string) => boolean,
): boolean {
  const cell = cellOf(row, condition.column);
  const known = withoutValue(cell, condition.blanks);
  if (known !== null) return known;
  return describes(filledOf(cell)) === (condition.side === "inside");
}

function isWithin(value: Decimal, { least, most }: NumberCondition): boolean {
  const toLeast = least === null ? 1 : compareDecimals(value, least.value);
  const toMost = most === null ? -1 : compareDecimals(value, most.value);
  return (
    (toLeast > 0 || (toLeast === 0 && least?.isIn === true)) &&
    (toMost < 0 || (toMost === 0 && most?.isIn === true))
  );
}

function isAmong(value: string, condition: OneOfCondition, catalogue: Catalogue): boolean {
  if (catalogue.get(condition.column)?.type !== "text") {
    return condition.values.some((each) => compareDecimals(value, each) === 0);
  }
  const text = cased(value, condition);
  return condition.values.some((each) => cased(each, condition) === text);
}

function cased(text: string, { letterCase }: TextCondition | OneOfCondition): string {
  return letterCase === "folded" ? foldText(text) : text;
}

function patternOf(condition: TextCondition): TextCondition["pattern"] {
  return condition.pattern.map((piece) =>
    typeof piece === "string" ? cased(piece, condition) : piece,
  );
}

function overlapHolds(condition: OverlapCondition, row: Row, catalogue: Catalogue): boolean {
  const { relations, intervals, openStart, openEnd, side } = condition;
  const kind = kindOf(condition.start, catalogue);
  const from = endMs(cellOf(row, condition.start), openStart, -Infinity);
  const last = endMs(cellOf(row, condition.end), openEnd, Infinity);
  // A day ends when the next begins.
  const to = last === null || kind !== "date" ? last : last + MS_PER_DAY;
  if (from === null || to === null || to <= from) return false;
  const isRelatedToAny = intervals.some((interval) => {
    const start = interval.start === null ? -Infinity : edgeValue(interval.start, kind);
    const end = interval.end === null ? Infinity : edgeValue(interval.end, kind);
    // A window without length has no relation to anything.
    if (start >= end) return false;
    const ends = {
      startToStart: compare(from, start),
      startToEnd: compare(from, end),
      endToStart: compare(to, start),
      endToEnd: compare(to, end),
    };
    return relations.some((relation) => isRelated(ends, relation));
  });
  return isRelatedToAny === (side === "inside");
}

/** One end of a record's stretch: infinite where it is open, null where the record is left out. */
function endMs(cell: Cell | FilledCell, isOpen: boolean, open: number): number | null {
  if (cell.state === "blank") return isOpen ? open : null;
  return cell.state === "dated" ? cell.ms : null;
}

function compare(a: number, b: number): number {
  return a === b ? 0 : a < b ? -1 : 1;
}

function daysHold(condition: DaysCondition, row: Row, catalogue: Catalogue): boolean {
  const { from, to, least, most, side } = condition;
  const [first, second] = [cellOf(row, from), cellOf(row, to)];
  if (first.state !== "dated" || second.state !== "dated") return false;
  const days =
    kindOf(from, catalogue) === "instant"
      ? Math.trunc((second.ms - first.ms) / MS_PER_DAY)
      : Math.floor(second.ms / MS_PER_DAY) - Math.floor(first.ms / MS_PER_DAY);
  const isInside = (least === null || days >= least) && (most === null || days <= most);
  return isInside === (side === "inside");
}

function columnsHold(
  { left, comparison, right }: ColumnsCondition,
  row: Row,
  catalogue: Catalogue,
) {
  const [first, second] = [cellOf(row, left), cellOf(row, right)];
  if (stateOf(first) !== "dated" || stateOf(second) !== "dated") return false;
  const type: Column["type"] | undefined = catalogue.get(left)?.type;
  const order =
    type === "date"
      ? msOf(first) - msOf(second)
      : type === "text" || type === "boolean"
        ? compareTexts(filledOf(first), filledOf(second))
        : compareDecimals(filledOf(first), filledOf(second));
  return isOrdered(order, comparison);
}

/** Only whether they are the same counts: texts, and yes and no, have no order here. */
function compareTexts(a: string, b: string): number {
  return a === b ? 0 : 1;
}

function isOrdered(order: number, comparison: OrderComparison): boolean {
  switch (comparison) {
    case "=":
      return order === 0;
    case "<>":
      return order !== 0;
    case "<":
      return order < 0;
    case "<=":
      return order <= 0;
    case ">":
      return order > 0;
    case ">=":
      return order >= 0;
  }
}

/** What a column of a kind is compared with at an edge, in milliseconds as in a cell of the kind. */
export function edgeValue(edge: Edge, kind: DateKind): number {
  return kind === "instant" ? edge.instant : edge.wall;
}

function cellOf(row: Row, column: string): Cell | FilledCell {
  const cell = row[column];
  if (cell === undefined) throw new Error(`the record has no column ${column}`);
  return cell;
}

function kindOf(column: string, catalogue: Catalogue): DateKind {
  const found = catalogue.get(column);
  if (found?.type !== "date") throw new Error(`${column} is no date column`);
  return found.kind;
}

function msOf(cell: Cell | FilledCell): number {
  if (cell.state !== "dated") throw new Error("the cell holds no date");
  return cell.ms;
}

function filledOf(cell: Cell | FilledCell): string {
  if (cell.state !== "filled") throw new Error("the cell holds neither text nor number");
  return cell.value;
}
