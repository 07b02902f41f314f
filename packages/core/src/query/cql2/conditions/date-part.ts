import { fault } from "../../../faults/index.js";
import type { OrderComparison } from "../../../filters/index.js";
import { readIsoDate } from "../../../reading/index.js";
import { NO_RECORD, type DatePartQuery } from "../../query.js";
import { FALSE, joined, not, property } from "../building.js";
import { datesQuery } from "../date-queries.js";
import type { Expression } from "../expression.js";
import { DATE_COMPARISON, DATE_PARTS } from "../meanings.js";
import { partOf } from "../operands.js";
import { isDated, type ComparedFunction } from "./common.js";

/** `year(raised) >= 2025`: dates of a year are between its ends, so that an index serves. */
export const YEAR: ComparedFunction = {
  compared: (call, comparison, right, operands) => {
    const column = operands.dates(call.args[0] ?? call);
    const year = operands.whole(right);
    if (column === null || year === null) return NO_RECORD;
    const written = readIsoDate(String(year).padStart(4, "0"));
    if (!written.ok) return operands.failed(right, written.faults);
    const part = partOf(written.value);
    return datesQuery(operands, right, column, [
      { kind: "part", comparison: DATE_COMPARISON[comparison], part },
    ]);
  },
};

/** `month(raised) = 2`, and the other parts of a date in any year. */
export const DATE_PART: ComparedFunction = {
  compared: (call, comparison, right, operands) => {
    const column = operands.dates(call.args[0] ?? call);
    const value = operands.whole(right);
    const known = DATE_PARTS[call.op];
    if (column === null || value === null || known === undefined) return NO_RECORD;
    const [part, least, most] = known;
    if (part === "BYHOUR" && column.kind === "date") {
      const facts = { name: column.name, text: call.op };
      return operands.fault(call, fault("column.finerThanDay", facts));
    }
    if (value < least || value > most) {
      const facts = { text: String(value), accepted: `${call.op} is ${least} to ${most}` };
      return operands.fault(right, fault("filter.value", facts, { value: String(value) }));
    }
    const [from, to] = {
      "=": [value, value],
      "<>": [value, value],
      "<": [least, value - 1],
      "<=": [least, value],
      ">": [value + 1, most],
      ">=": [value, most],
    }[comparison] as [number, number];
    return {
      kind: "datePart",
      id: "",
      origin: operands.origin(right),
      column: column.name,
      part,
      side: comparison === "<>" ? "outside" : "inside",
      within: from > to ? null : { from, to },
    };
  },
};

export function datePartExpression({ column, part, side, within }: DatePartQuery): Expression {
  if (within === null) {
    return side === "inside" ? FALSE : isDated(column);
  }
  const [name = "month", [, least, most] = ["", 1, 12] as const] =
    Object.entries(DATE_PARTS).find(([, [rule]]) => rule === part) ?? [];
  const value: Expression = { op: name, args: [property(column)] };
  const compared = (op: OrderComparison, number: number): Expression => ({
    op,
    args: [value, { decimal: String(number) }],
  });
  const { from, to } = within;
  if (from === to) return compared(side === "inside" ? "=" : "<>", from);
  const bounds = [
    ...(from > least ? [compared(">=", from)] : []),
    ...(to < most ? [compared("<=", to)] : []),
  ];
  const found = joined("and", bounds, isDated(column));
  return side === "inside" ? found : not(found);
}
