import { fault } from "../../faults/index.js";
import { readIsoDate } from "../../reading/index.js";
import {
  ISO_CALENDAR,
  readWindow,
  resolveExactly,
  timeOfDayIn,
  type Recurring,
} from "../../windows/index.js";
import type { Column } from "../columns.js";
import { NOTHING, type Filter, type OrderComparison, type OverlapCondition } from "../filter.js";
import type { Relation } from "../relations.js";
import { type Expression, type Operation, type Temporal } from "./expression.js";
import { recurringStretches } from "../stretches.js";
import { BLANKS, dateFilter } from "./conditions.js";
import {
  DATE_COMPARISON,
  DATE_PARTS,
  MIRROR,
  TEMPORAL_COMPARISON,
  TEMPORAL_ORDER,
  TEMPORAL_RELATIONS,
} from "./meanings.js";
import { shown } from "./read-text.js";

import type { Operands } from "./operands.js";

/** Makes the conditions on dates: comparisons, windows, stretches, parts of a date, days between. */
export class DateConditions {
  constructor(private readonly operands: Operands) {}

  inWindow(expression: Operation): Filter {
    const [subject, written] = expression.args;
    if (subject === undefined || written === undefined || !("text" in written)) {
      return this.operands.syntax(
        expression,
        "takes a column and a window, such as inWindow(raised, 'month-1/now')",
      );
    }
    const column = this.operands.dates(subject);
    if (column === null) return NOTHING;
    const { window } = this.operands.context;
    const read = readWindow(written.text);
    if (!read.ok) return this.operands.failed(written, read.faults);
    const finer = column.kind === "date" ? timeOfDayIn(read.value.window) : null;
    if (finer !== null) {
      const facts = { name: column.name, text: finer };
      return this.operands.fault(written, fault("column.finerThanDay", facts));
    }
    const wholeDays = column.kind === "date";
    const resolved = resolveExactly(read.value.window, { ...window, wholeDays });
    if (!resolved.ok) return this.operands.failed(written, resolved.faults);
    return {
      kind: "date",
      column: column.name,
      side: "inside",
      intervals: resolved.value.intervals,
      recurring: recurringStretches(resolved.value.recurring, window),
      blanks: BLANKS,
    };
  }

  dateComparison(column: Column, comparison: OrderComparison, right: Expression): Filter {
    const span = this.operands.span(right);
    if (span === null) return NOTHING;
    const compared = DATE_COMPARISON[comparison];
    return dateFilter(column.name, compared, span);
  }

  temporal(expression: Operation, op: Temporal): Filter {
    const [left, right] = expression.args;
    if (left === undefined || right === undefined || expression.args.length > 2) {
      return this.operands.syntax(expression, "takes two sides");
    }
    const relations = TEMPORAL_RELATIONS[op];
    if (isStretch(left)) return this.#overlap(left, relations, right);
    if (isStretch(right)) {
      return this.#overlap(
        right,
        relations.map((each) => MIRROR[each]),
        left,
      );
    }
    if (!("property" in left)) {
      if (!("property" in right)) return this.operands.syntax(expression, "speaks of no column");
      // "Before X" said of X is "after" said of the column.
      const mirrored = { t_after: "t_before", t_before: "t_after" } as const;
      const turned = op in mirrored ? mirrored[op as keyof typeof mirrored] : op;
      return this.temporal({ op: turned, args: [right, left] }, turned);
    }
    const column = this.operands.dates(left);
    if (column === null) return NOTHING;
    if ("property" in right) {
      const other = this.operands.dates(right);
      const comparison = TEMPORAL_ORDER[op];
      if (other === null || comparison === undefined) return this.#onlyStretches(expression, op);
      return { kind: "columns", left: column.name, comparison, right: other.name };
    }
    const comparison = TEMPORAL_COMPARISON[op];
    if (comparison === undefined) return this.#onlyStretches(expression, op);
    const interval =
      "interval" in right ? this.operands.interval(right) : this.operands.span(right);
    if (interval === null) return NOTHING;
    return dateFilter(column.name, comparison, interval);
  }

  #onlyStretches(expression: Expression, op: Temporal): Filter {
    const reason = `compares stretches: say ${shown(op)}(INTERVAL(start, end), …) with the columns of its two ends`;
    return this.operands.syntax(expression, reason);
  }

  #overlap(stretch: Expression, relations: readonly Relation[], other: Expression): Filter {
    if (!("interval" in stretch)) return NOTHING;
    const [first, second] = stretch.interval;
    const openStart = "op" in first && first.op === "openStart";
    const openEnd = !("op" in second && second.op === "closedEnd");
    const [from, to] = [this.operands.dates(inner(first)), this.operands.dates(inner(second))];
    const interval =
      "interval" in other ? this.operands.interval(other) : this.operands.span(other);
    if (from === null || to === null || interval === null) return NOTHING;
    const found: OverlapCondition = {
      kind: "overlap",
      start: from.name,
      end: to.name,
      side: "inside",
      relations,
      intervals: [interval],
      openStart,
      openEnd,
    };
    return found;
  }

  year(call: Operation, comparison: OrderComparison, right: Expression): Filter {
    const column = this.operands.dates(call.args[0] ?? call);
    const year = this.operands.whole(right);
    if (column === null || year === null) return NOTHING;
    const written = readIsoDate(String(year).padStart(4, "0"));
    if (!written.ok) return this.operands.failed(right, written.faults);
    const span = this.operands.spanOf(written.value, right);
    return span === null ? NOTHING : dateFilter(column.name, DATE_COMPARISON[comparison], span);
  }

  datePart(call: Operation, comparison: OrderComparison, right: Expression): Filter {
    const column = this.operands.dates(call.args[0] ?? call);
    const value = this.operands.whole(right);
    const part = DATE_PARTS[call.op];
    if (column === null || value === null || part === undefined) return NOTHING;
    const [name, least, most] = part;
    if (name === "BYHOUR" && column.kind === "date") {
      const facts = { name: column.name, text: call.op };
      return this.operands.fault(call, fault("column.finerThanDay", facts));
    }
    if (value < least || value > most) {
      const facts = { text: String(value), accepted: `${call.op} is ${least} to ${most}` };
      return this.operands.fault(right, fault("filter.value", facts, { value: String(value) }));
    }
    const [from, to] = {
      "=": [value, value],
      "<>": [value, value],
      "<": [least, value - 1],
      "<=": [least, value],
      ">": [value + 1, most],
      ">=": [value, most],
    }[comparison] as [number, number];
    const spans = from > to ? [] : [{ from, to, nth: null }];
    const rules = [{ name, spans } as Recurring];
    const { weekStart, firstWeekDays } = this.operands.context.window.calendar ?? ISO_CALENDAR;
    const stretch = {
      interval: { start: null, end: null },
      rules,
      weeks: { weekStart, firstWeekDays },
      zone: this.operands.context.window.zone.id,
    };
    return {
      kind: "date",
      column: column.name,
      side: comparison === "<>" ? "outside" : "inside",
      intervals: [],
      recurring: spans.length === 0 ? [] : [stretch],
      blanks: BLANKS,
    };
  }

  days(call: Operation, comparison: OrderComparison, least: number, most: number): Filter {
    const [first, second] = call.args;
    if (first === undefined || second === undefined)
      return this.operands.syntax(call, "takes two columns");
    const [from, to] = [this.operands.dates(first), this.operands.dates(second)];
    if (from === null || to === null) return NOTHING;
    const bounds = {
      "=": { least, most },
      "<>": { least, most },
      "<": { least: null, most: least - 1 },
      "<=": { least: null, most },
      ">": { least: most + 1, most: null },
      ">=": { least, most: null },
    }[comparison];
    const outside = comparison === "<>";
    return {
      kind: "days",
      from: from.name,
      to: to.name,
      side: outside ? "outside" : "inside",
      ...bounds,
    };
  }
}

/** A stretch between two columns. */
function isStretch(expression: Expression): boolean {
  return "interval" in expression && expression.interval.every((each) => "property" in inner(each));
}

function inner(expression: Expression): Expression {
  if (!("op" in expression)) return expression;
  const marks = ["openStart", "closedEnd"];
  return marks.includes(expression.op) ? (expression.args[0] ?? expression) : expression;
}
