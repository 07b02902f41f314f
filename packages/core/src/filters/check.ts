import { MS_PER_DAY, isoWall, type Interval } from "../calendar/index.js";
import { fault, type Fault } from "../faults/index.js";
import { columnFault, dateColumnFault, holdsNumbers, type Catalogue } from "./columns.js";
import type { ColumnsCondition, Condition, Filter } from "./filter.js";

/** Conditions of a tree, levels of it and values of a list at most. */
export const FILTER_LIMITS = { conditions: 500, depth: 50, values: 1_000 } as const;

/**
 * Every fault of a tree against the columns that are known, in the order of the tree.
 *
 * Codes: `column.unknown`; `column.notDate`, `column.notNumber`, `column.notText`,
 * `column.notBoolean` and `column.otherType` for comparisons that could never hold; `column.finerThanDay` (a column of days
 * compared with an edge inside a day, which could only be rounded by a guess);
 * `column.noState`; `filter.tooLarge` beyond {@link FILTER_LIMITS}.
 */
export function checkFilter(filter: Filter, catalogue: Catalogue): readonly Fault[] {
  const large = sizeFault(filter);
  return large === null ? faultsOf(filter, catalogue) : [large];
}

function faultsOf(filter: Filter, catalogue: Catalogue): readonly Fault[] {
  switch (filter.kind) {
    case "all":
    case "any":
      return filter.of.flatMap((part) => faultsOf(part, catalogue));
    case "not":
      return faultsOf(filter.of, catalogue);
    default:
      return conditionFaults(filter, catalogue).filter((found) => found !== null);
  }
}

function conditionFaults(condition: Condition, catalogue: Catalogue): readonly (Fault | null)[] {
  switch (condition.kind) {
    case "date": {
      const found = dateColumnFault(condition.column, catalogue);
      if (found !== null) return [found];
      return edgeFaults(condition.column, condition.intervals, catalogue);
    }
    case "number":
      return [typeFault(condition.column, ["integer", "decimal"], "column.notNumber", catalogue)];
    case "text":
      return [typeFault(condition.column, ["text"], "column.notText", catalogue)];
    case "oneOf": {
      const types = ["text", "integer", "decimal"];
      const { length } = condition.values;
      return [
        typeFault(condition.column, types, "column.notText", catalogue),
        length > FILTER_LIMITS.values
          ? fault("filter.tooLarge", { what: "values of a list", most: FILTER_LIMITS.values })
          : null,
      ];
    }
    case "boolean":
      return [typeFault(condition.column, ["boolean"], "column.notBoolean", catalogue)];
    case "overlap":
      return [
        ...pairFaults(condition.start, condition.end, catalogue),
        ...edgeFaults(condition.start, condition.intervals, catalogue),
      ];
    case "days":
      return pairFaults(condition.from, condition.to, catalogue);
    case "columns":
      return columnsFaults(condition, catalogue);
    case "state": {
      const type = catalogue.get(condition.column)?.type;
      return [
        condition.state === "unreadable" && type === "text"
          ? fault("column.noState", { name: condition.column })
          : columnFault(condition.column, catalogue),
      ];
    }
  }
}

function typeFault(
  name: string,
  types: readonly string[],
  code: "column.notNumber" | "column.notText" | "column.notBoolean",
  catalogue: Catalogue,
): Fault | null {
  const type = catalogue.get(name)?.type;
  if (type === undefined) return columnFault(name, catalogue);
  return types.includes(type) ? null : fault(code, { name, type }, { value: name });
}

/** Two date columns of one kind. */
function pairFaults(first: string, second: string, catalogue: Catalogue): readonly Fault[] {
  const faults = [first, second].flatMap((name) => dateColumnFault(name, catalogue) ?? []);
  if (faults.length > 0) return faults;
  const [a, b] = [catalogue.get(first), catalogue.get(second)];
  const isAlike = a?.type === "date" && b?.type === "date" && a.kind === b.kind;
  return isAlike ? [] : [otherType(first, second, catalogue)];
}

function columnsFaults(
  { left, comparison, right }: ColumnsCondition,
  catalogue: Catalogue,
): readonly (Fault | null)[] {
  const faults = [left, right].flatMap((name) => columnFault(name, catalogue) ?? []);
  if (faults.length > 0) return faults;
  const [a, b] = [catalogue.get(left), catalogue.get(right)];
  if (a?.type === "date")
    return b?.type === "date"
      ? pairFaults(left, right, catalogue)
      : [otherType(left, right, catalogue)];
  if (a?.type !== b?.type && !(holdsNumbers(a) && holdsNumbers(b))) {
    return [otherType(left, right, catalogue)];
  }
  if (comparison === "=" || comparison === "<>") return [];
  if (a?.type !== "text" && a?.type !== "boolean") return [];
  return [fault("column.notOrdered", { name: left, type: a.type }, { value: left })];
}

function otherType(first: string, second: string, catalogue: Catalogue): Fault {
  const facts = {
    first,
    second,
    firstType: typeInWords(first, catalogue),
    secondType: typeInWords(second, catalogue),
  };
  return fault("column.otherType", facts, { value: second });
}

function typeInWords(name: string, catalogue: Catalogue): string {
  const column = catalogue.get(name);
  return column?.type === "date" ? `dates of kind ${column.kind}` : (column?.type ?? "nothing");
}

/** The fault of a column of days that is compared with an edge inside a day. */
export function edgeFaults(
  name: string,
  intervals: readonly Interval[],
  catalogue: Catalogue,
): readonly Fault[] {
  const column = catalogue.get(name);
  if (column?.type !== "date" || column.kind !== "date") return [];
  const edges = intervals.flatMap(({ start, end }) => [start, end]);
  const finer = edges.find((edge) => edge !== null && edge.wall % MS_PER_DAY !== 0) ?? null;
  if (finer === null) return [];
  return [fault("column.finerThanDay", { name, text: isoWall(finer.wall) })];
}

function sizeFault(filter: Filter): Fault | null {
  const { conditions, depth } = FILTER_LIMITS;
  let found = 0;
  const isDeeper = (each: Filter, left: number): boolean => {
    if (left === 0) return true;
    found++;
    if (found > conditions) return false;
    if (each.kind === "not") return isDeeper(each.of, left - 1);
    if (each.kind !== "all" && each.kind !== "any") return false;
    return each.of.some((part) => isDeeper(part, left - 1));
  };
  if (isDeeper(filter, depth)) return fault("filter.tooLarge", { what: "levels", most: depth });
  return found > conditions
    ? fault("filter.tooLarge", { what: "conditions", most: conditions })
    : null;
}
