import type { EpochMs } from "../calendar/index.js";
import { columnsOf, type Catalogue } from "../filters/index.js";
import {
  nextChange,
  partsOf,
  type Part,
  type Window,
  type WindowContext,
} from "../windows/index.js";
import {
  conditionsIn,
  windowOfPart,
  type DateTest,
  type Query,
  type QueryCondition,
} from "./query.js";

/** How a meaning depends on the instant of the request: not at all, in steps such as days, or always. */
export const TIME_DEPENDENCES = ["never", "steps", "always"] as const;
export type TimeDependence = (typeof TIME_DEPENDENCES)[number];

/** Of several the one that changes most often. */
export function mostDependent(each: Iterable<TimeDependence>): TimeDependence {
  const found = [...each].map((one) => TIME_DEPENDENCES.indexOf(one));
  return TIME_DEPENDENCES[Math.max(0, ...found)] ?? "never";
}

/** How what a query matches depends on the instant of the request. */
export function timeDependence(query: Query, columns: Catalogue): TimeDependence {
  return mostDependent(
    conditionsIn(query).map((condition) => {
      const parts = datesIn(condition);
      const isNow = ({ base }: Part) => base.kind === "now";
      // Of whole days even `now` changes only with the day.
      if (!isOfDays(condition, columns) && parts.some(isNow)) return "always";
      if (changesDaily(condition)) return "steps";
      return parts.every(({ base }) => base.kind === "written") ? "never" : "steps";
    }),
  );
}

/** Whether what a query matches depends on who asks. */
export function dependsOnCaller(query: Query): boolean {
  return conditionsIn(query).some(({ kind }) => kind === "caller");
}

/** Whether a query reads the same filter at any moment, in any zone and for every caller. */
export function isConstant(query: Query): boolean {
  return conditionsIn(query).every(({ kind }) => kind === "value");
}

/** The columns of which a query speaks, each once. */
export function columnsOfQuery(query: Query): readonly string[] {
  return [...new Set(conditionsIn(query).flatMap(columnsOfCondition))];
}

export function columnsOfCondition(condition: QueryCondition): readonly string[] {
  switch (condition.kind) {
    case "date":
    case "datePart":
    case "caller":
      return [condition.column];
    case "overlap":
      return [condition.start, condition.end];
    case "value":
      return columnsOf(condition.condition);
  }
}

/** When what a query matches next changes: the instant of the request where it always does, null for never. */
export function nextChangeOf(
  query: Query,
  columns: Catalogue,
  context: WindowContext,
): EpochMs | null {
  const changes = conditionsIn(query).flatMap((condition) => {
    const whole = isOfDays(condition, columns);
    const daily = changesDaily(condition) ? (nextDay(context) ?? []) : [];
    const moving = windowsIn(condition).flatMap((window) => {
      const found = nextChange(window, context);
      // Of whole days even `now` changes only with the day.
      return (found === context.asOf && whole ? nextDay(context) : found) ?? [];
    });
    return moving.concat(daily);
  });
  return changes.length === 0 ? null : (Math.min(...changes) as EpochMs);
}

/** The first moment of the next day. */
export function nextDay(context: WindowContext): EpochMs | null {
  return nextChange(windowOfPart(TODAY), context);
}

const TODAY: Part = {
  base: { kind: "unit", unit: "day", offset: 0, nth: null },
  shifts: [],
  text: "today",
};

function changesDaily(condition: QueryCondition): boolean {
  return "changesDaily" in condition;
}

function isOfDays(condition: QueryCondition, columns: Catalogue): boolean {
  if (condition.kind !== "date") return false;
  const column = columns.get(condition.column);
  return column?.type === "date" && column.kind === "date";
}

/** The written dates of a condition. */
function datesIn(condition: QueryCondition): readonly Part[] {
  return windowsIn(condition).flatMap(({ alternatives }) =>
    alternatives.flatMap(({ range }) => partsOf(range)),
  );
}

function windowsIn(condition: QueryCondition): readonly Window[] {
  if (condition.kind === "overlap") {
    const { start, end } = condition.interval;
    return [start, end].filter((part) => part !== null).map(windowOfPart);
  }
  return condition.kind === "date" ? condition.tests.flatMap(windowsOfTest) : [];
}

/** The windows of which a test is made: one for each end of a period between two dates. */
export function windowsOfTest(test: DateTest): readonly Window[] {
  switch (test.kind) {
    case "part":
      return [windowOfPart(test.part)];
    case "between":
      return [windowOfPart(test.start.part), windowOfPart(test.end.part)];
    case "window":
      return [test.window];
  }
}
