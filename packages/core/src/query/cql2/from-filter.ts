import {
  MS_PER_DAY,
  dayNumber,
  isoDay,
  isoInstant,
  isoWall,
  wallMs,
  type Interval,
} from "../../calendar/index.js";
import type { DateKind } from "../../reading/index.js";
import { recurringText } from "../../windows/index.js";
import {
  edgeValue,
  patternText,
  plainMatch,
  pushNegation,
  type Catalogue,
  type DateCondition,
  type DaysCondition,
  type Filter,
  type NegatableState,
  type NumberCondition,
  type OneOfCondition,
  type OverlapCondition,
  type PlainFilter,
  type Relation,
  type TextCondition,
} from "../../filters/index.js";
import type { Expression } from "./expression.js";
import { FALSE, TRUE, joined, not, property } from "./building.js";

/**
 * A filter as an expression of CQL2 that reads back as a filter which keeps the same records.
 *
 * Windows are written as the dates that they came to, so what was written to move moves no more.
 */
export function cql2Of(filter: Filter, columns: Catalogue): Expression {
  return expressionOf(pushNegation(filter), columns);
}

function expressionOf(filter: PlainFilter, columns: Catalogue): Expression {
  switch (filter.kind) {
    case "all":
      return joined(
        "and",
        filter.of.map((each) => expressionOf(each, columns)),
        TRUE,
      );
    case "any":
      return joined(
        "or",
        filter.of.map((each) => expressionOf(each, columns)),
        FALSE,
      );
    case "state":
      return stateExpression(filter);
    case "date":
      return withBlanks(filter, dateExpression(filter, columns));
    case "number":
      return withBlanks(filter, numberExpression(filter));
    case "text":
      return withBlanks(filter, textExpression(filter));
    case "oneOf":
      return withBlanks(filter, oneOfExpression(filter, columns));
    case "boolean": {
      const args = [property(filter.column), { boolean: filter.side === "inside" }];
      return withBlanks(filter, { op: "=", args });
    }
    case "overlap":
      return overlapExpression(filter, columns);
    case "days":
      return daysExpression(filter);
    case "columns":
      return { op: filter.comparison, args: [property(filter.left), property(filter.right)] };
  }
}

function isNull(column: string): Expression {
  return { op: "isNull", args: [property(column)] };
}

function stateExpression({ column, state, is }: NegatableState): Expression {
  const found = state === "blank" ? isNull(column) : { op: state, args: [property(column)] };
  return is ? found : not(found);
}

function withBlanks(
  { column, blanks }: { readonly column: string; readonly blanks: DateCondition["blanks"] },
  expression: Expression,
): Expression {
  switch (blanks) {
    case "leave":
      return expression;
    case "keep":
      return { op: "or", args: [expression, isNull(column)] };
    case "only":
      return isNull(column);
  }
}

function ofSide(
  side: DateCondition["side"],
  column: string,
  described: Expression | null,
): Expression {
  // A condition that describes nothing has all that is no blank on its other side.
  if (described === null) {
    return side === "inside" ? FALSE : { op: "dated", args: [property(column)] };
  }
  return side === "inside" ? described : not(described);
}

function dateExpression(condition: DateCondition, columns: Catalogue): Expression {
  const { column, side, intervals, recurring } = condition;
  const kind = kindOf(column, columns);
  const windows = [
    ...intervals.flatMap((interval) => windowText(interval, kind) ?? []),
    ...recurring.flatMap(({ interval, rules }) => {
      const text = windowText(interval, kind);
      return text === null ? [] : [[text, ...rules.map(recurringText)].join(";")];
    }),
  ];
  if (windows.length === 0) return ofSide(side, column, null);
  return ofSide(side, column, {
    op: "inWindow",
    args: [property(column), { text: windows.join("|") }],
  });
}

const FIRST_MS = dayNumber(1, 1, 1) * MS_PER_DAY;
const END_MS = dayNumber(10_000, 1, 1) * MS_PER_DAY;

/** An interval in the notation of windows, each end with all that it names; null for an empty one. */
function windowText({ start, end }: Interval, kind: DateKind): string | null {
  const [from, to] = [start, end].map((edge) => (edge === null ? null : edgeValue(edge, kind)));
  if (from == null && to == null) return "../..";
  if (from != null && to != null && from >= to) return null;
  // Outside the years that can be written there is no date.
  if ((from != null && from >= END_MS) || (to != null && to <= FIRST_MS)) return null;
  return `${from == null ? ".." : startText(from, kind)}/${to == null ? ".." : endText(to, kind)}`;
}

function startText(ms: number, kind: DateKind): string {
  return isDay(ms, kind) ? isoDay(ms / MS_PER_DAY) : momentText(ms, kind);
}

function endText(ms: number, kind: DateKind): string {
  return isDay(ms, kind) ? isoDay(ms / MS_PER_DAY - 1) : momentText(ms - 1, kind);
}

/** A day of a column of instants depends on the zone, and so is written as moments. */
function isDay(ms: number, kind: DateKind): boolean {
  return kind !== "instant" && ms % MS_PER_DAY === 0;
}

function momentText(ms: number, kind: DateKind): string {
  const text = kind === "instant" ? isoInstant(ms as never) : isoWall(wallMs(ms));
  if (text.includes(".")) return text;
  return kind === "instant" ? text.replace("Z", ".000Z") : `${text}.000`;
}

function numberExpression({ column, side, least, most }: NumberCondition): Expression {
  const bound = (op: string, value: string): Expression => ({
    op,
    args: [property(column), { decimal: value }],
  });
  if (least?.isIn === true && most?.isIn === true) {
    const isOne = least.value === most.value;
    const values = (isOne ? [least] : [least, most]).map(({ value }) => ({ decimal: value }));
    return ofSide(side, column, {
      op: isOne ? "=" : "between",
      args: [property(column), ...values],
    });
  }
  const bounds = [
    ...(least === null ? [] : [bound(least.isIn ? ">=" : ">", least.value)]),
    ...(most === null ? [] : [bound(most.isIn ? "<=" : "<", most.value)]),
  ];
  if (bounds.length === 0) {
    return side === "inside" ? { op: "dated", args: [property(column)] } : FALSE;
  }
  return ofSide(side, column, joined("and", bounds, TRUE));
}

function casedText(expression: Expression, letterCase: TextCondition["letterCase"]): Expression {
  return letterCase === "folded" ? { op: "casei", args: [expression] } : expression;
}

function textExpression({ column, side, pattern, letterCase }: TextCondition): Expression {
  const plain = plainMatch(pattern);
  const [op, text] = plain?.match === "is" ? ["=", plain.text] : ["like", patternText(pattern)];
  const args = [property(column), { text }].map((each) => casedText(each, letterCase));
  return ofSide(side, column, { op, args });
}

function oneOfExpression(
  { column, side, values, letterCase }: OneOfCondition,
  columns: Catalogue,
): Expression {
  if (values.length === 0) return ofSide(side, column, null);
  const isText = columns.get(column)?.type === "text";
  const list = values.map((each) =>
    isText ? casedText({ text: each }, letterCase) : { decimal: each },
  );
  const subject = isText ? casedText(property(column), letterCase) : property(column);
  return ofSide(side, column, { op: "in", args: [subject, { list }] });
}

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
  const stretch: Expression = {
    interval: [
      openStart ? { op: "openStart", args: [property(start)] } : property(start),
      openEnd ? property(end) : { op: "closedEnd", args: [property(end)] },
    ],
  };
  const known = windows.flatMap((window) =>
    relations.map((each): Expression => ({ op: FUNCTION_OF[each], args: [stretch, window] })),
  );
  if (side === "inside") return joined("or", known, FALSE);
  // Every stretch that is one lies somehow to all of time.
  const all: Expression = { interval: [{ text: ".." }, { text: ".." }] };
  const isStretch = joined(
    "or",
    ["t_during", "t_starts", "t_finishes", "t_equals"].map((op) => ({ op, args: [stretch, all] })),
    FALSE,
  );
  return joined("and", [isStretch, ...known.map(not)], TRUE);
}

function daysExpression({ from, to, side, least, most }: DaysCondition): Expression {
  const days: Expression = { op: "daysBetween", args: [property(from), property(to)] };
  const bound = (op: string, value: number): Expression => ({
    op,
    args: [days, { decimal: String(value) }],
  });
  const bounds = [
    ...(least === null ? [] : [bound(">=", least)]),
    ...(most === null ? [] : [bound("<=", most)]),
  ];
  if (bounds.length === 0) {
    const both = [from, to].map((each) => ({ op: "dated", args: [property(each)] }));
    return side === "inside" ? { op: "and", args: both } : FALSE;
  }
  const within = joined("and", bounds, TRUE);
  return side === "inside" ? within : not(within);
}

function kindOf(column: string, columns: Catalogue): DateKind {
  const found = columns.get(column);
  return found?.type === "date" ? found.kind : "date";
}
