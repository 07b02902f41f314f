import { MS_PER_DAY, isoWall, type Interval } from "../../calendar/index.js";
import { fault, type Fault } from "../../faults/index.js";
import { columnFault, dateColumnFault, type Catalogue } from "../columns.js";

/** Conditions of a tree, levels of it and values of a list at most. */
export const FILTER_LIMITS = { conditions: 500, depth: 50, values: 1_000 } as const;

/** The fault of a column that is of none of some types. */
export function typeFault(
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
export function pairFaults(first: string, second: string, catalogue: Catalogue): readonly Fault[] {
  const faults = [first, second].flatMap((name) => dateColumnFault(name, catalogue) ?? []);
  if (faults.length > 0) return faults;
  const [a, b] = [catalogue.get(first), catalogue.get(second)];
  const isAlike = a?.type === "date" && b?.type === "date" && a.kind === b.kind;
  return isAlike ? [] : [otherType(first, second, catalogue)];
}

export function otherType(first: string, second: string, catalogue: Catalogue): Fault {
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
