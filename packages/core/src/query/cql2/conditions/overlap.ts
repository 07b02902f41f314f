import type { Catalogue, OverlapCondition, Relation } from "../../../filters/index.js";
import { FALSE, TRUE, joined, not, property } from "../building.js";
import type { Expression } from "../expression.js";
import type { Written } from "./common.js";
import { kindOf, windowText } from "./date.js";

export const overlapWritten: Written<OverlapCondition> = overlapExpression;

const FUNCTION_OF: Readonly<Record<Relation, string>> = {
  before: "t_before",
  meets: "t_meets",
  overlaps: "t_overlaps",
  finishedBy: "t_finishedby",
  contains: "t_contains",
  starts: "t_starts",
  equals: "t_equals",
  startedBy: "t_startedby",
  during: "t_during",
  finishes: "t_finishes",
  overlappedBy: "t_overlappedby",
  metBy: "t_metby",
  after: "t_after",
};

function overlapExpression(condition: OverlapCondition, columns: Catalogue): Expression {
  const kind = kindOf(condition.start, columns);
  const windows = condition.intervals.flatMap((interval): readonly Expression[] => {
    const text = windowText(interval, kind);
    if (text === null) return [];
    const [first = "", last = ""] = text.split("/");
    return [{ interval: [{ text: first }, { text: last }] }];
  });
  return overlapRelations(condition, windows);
}

/** A period and its other side: negated, each relation to each window is none of them. */
export function overlapRelations(
  condition: Omit<OverlapCondition, "kind" | "intervals">,
  windows: readonly Expression[],
): Expression {
  const { start, end, side, relations, openStart, openEnd } = condition;
  const interval: Expression = {
    interval: [
      openStart ? { op: "openStart", args: [property(start)] } : property(start),
      openEnd ? property(end) : { op: "closedEnd", args: [property(end)] },
    ],
  };
  const known = windows.flatMap((window) =>
    relations.map((each): Expression => ({ op: FUNCTION_OF[each], args: [interval, window] })),
  );
  if (side === "inside") return joined("or", known, FALSE);
  // Every interval that is one lies somehow to all of time.
  const all: Expression = { interval: [{ text: ".." }, { text: ".." }] };
  const isSpan = joined(
    "or",
    ["t_during", "t_starts", "t_finishes", "t_equals"].map((op) => ({ op, args: [interval, all] })),
    FALSE,
  );
  return joined("and", [isSpan, ...known.map(not)], TRUE);
}
