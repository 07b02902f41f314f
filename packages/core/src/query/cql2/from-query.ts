import type { Catalogue, OrderComparison } from "../../filters/index.js";
import { overlapRelations } from "./conditions/overlap.js";
import { datePartExpression } from "./conditions/date-part.js";
import { DATE_COMPARISON } from "./meanings.js";
import type { DateQuery, DateTest, OverlapQuery, Query } from "../query.js";
import { canonicalTest } from "../words.js";
import { FALSE, TRUE, joined, not, property } from "./building.js";
import { CALLER, type Expression } from "./expression.js";
import { cql2Of } from "./from-filter.js";
import type { Part } from "../../windows/index.js";

/**
 * A query as an expression of CQL2 that reads back as the same query: windows that move with the clock
 * are written as they came, and go on moving.
 */
export function cql2OfQuery(query: Query, columns: Catalogue): Expression {
  switch (query.kind) {
    case "all":
    case "any": {
      const of = query.of.map((each) => cql2OfQuery(each, columns));
      return joined(query.kind === "all" ? "and" : "or", of, query.kind === "all" ? TRUE : FALSE);
    }
    case "not":
      return not(cql2OfQuery(query.of, columns));
    case "value":
    case "derived":
      return cql2Of(query.condition, columns);
    case "caller": {
      const cased = (each: Expression): Expression =>
        !query.caseSensitive ? { op: "casei", args: [each] } : each;
      const sides = [property(query.column), callerOf(query.claim)].map(cased);
      return { op: query.side === "inside" ? "=" : "<>", args: sides };
    }
    case "date":
      return dateExpression(query);
    case "datePart":
      return datePartExpression(query);
    case "overlap":
      return overlapExpression(query);
  }
}

function callerOf(claim: string | null): Expression {
  return { op: CALLER, args: claim === null ? [] : [{ text: claim }] };
}

function dateExpression({ column, tests, blanks, named }: DateQuery): Expression {
  const isNull: Expression = { op: "isNull", args: [property(column)] };
  if (blanks === "only") return isNull;
  const of =
    named === undefined
      ? tests.map((test) => testExpression(column, test))
      : [inWindow(column, named)];
  const dates = joined("or", of, FALSE);
  return blanks === "include" ? { op: "or", args: [dates, isNull] } : dates;
}

function testExpression(column: string, test: DateTest): Expression {
  switch (test.kind) {
    case "part": {
      const written = writtenDate(test.part);
      const op = OPERATOR_OF[test.comparison];
      if (written !== null) return { op, args: [property(column), written] };
      if (test.comparison !== "notOn") return inWindow(column, canonicalTest(test));
      return not(inWindow(column, canonicalTest({ ...test, comparison: "on" })));
    }
    case "between": {
      const [start, end] = [writtenDate(test.start.part), writtenDate(test.end.part)];
      const isPlain = test.start.comparison === "from" && test.end.comparison === "to";
      if (test.maySwap || !isPlain || start === null || end === null) {
        return inWindow(column, canonicalTest(test));
      }
      return { op: "between", args: [property(column), start, end] };
    }
    case "window": {
      const within = inWindow(column, canonicalTest(test));
      return test.comparison === "notOn" ? not(within) : within;
    }
  }
}

const OPERATOR_OF = Object.fromEntries(
  Object.entries(DATE_COMPARISON).map(([operator, comparison]) => [comparison, operator]),
) as Readonly<Record<(typeof DATE_COMPARISON)[OrderComparison], OrderComparison>>;

function inWindow(column: string, text: string): Expression {
  return { op: "inWindow", args: [property(column), { text }] };
}

/** A fixed date as CQL2 writes it; null for one that moves, or is moved. */
function writtenDate({ base, shifts, text }: Part): Expression | null {
  if (base.kind !== "written" || shifts.length > 0) return null;
  return text.includes("T") ? { timestamp: text } : { date: text };
}

function overlapExpression(query: OverlapQuery): Expression {
  const [start, end] = [query.interval.start, query.interval.end].map((part): Expression => ({
    text: part === null ? ".." : part.text,
  })) as [Expression, Expression];
  return overlapRelations(query, [{ interval: [start, end] }]);
}
