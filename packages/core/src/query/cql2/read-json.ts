import { Refused, fault, catchFault, type Result } from "../../faults/index.js";
import { DEEPEST_CQL2, type Expression } from "./expression.js";
import type { ReadExpression } from "./read-text.js";

/**
 * Reads the JSON form of CQL2, already parsed.
 *
 * Fails with one fault that has the path of its place: `filter.syntax`, `filter.tooLarge`.
 *
 * @see OGC 21-065r2, annex A
 * @example readCql2Json({ op: "<", args: [{ property: "cost" }, 500] })
 */
export function readCql2Json(document: unknown): Result<ReadExpression> {
  const places = new WeakMap<object, string>();
  return catchFault(() => ({
    expression: read(document, [], places),
    places: { at: (each) => ({ at: 0, path: places.get(each) ?? "" }) },
  }));
}

function refuse(value: unknown, path: readonly (string | number)[], reason: string): Refused {
  const text = value === undefined ? "nothing" : JSON.stringify(value);
  return new Refused(
    fault("filter.syntax", { at: 0, text, reason }, { path: path.join("."), value: text }),
  );
}

function read(
  value: unknown,
  path: readonly (string | number)[],
  places: WeakMap<object, string>,
): Expression {
  if (path.length > DEEPEST_CQL2 * 2) {
    throw new Refused(fault("filter.tooLarge", { what: "levels", most: DEEPEST_CQL2 }));
  }
  const placed = <T extends Expression>(expression: T): T => {
    places.set(expression, path.join("."));
    return expression;
  };
  const each = (values: readonly unknown[], ...under: readonly (string | number)[]) =>
    values.map((item, index) => read(item, [...path, ...under, index], places));
  if (typeof value === "string") return placed({ text: value });
  if (typeof value === "number") return placed({ decimal: String(value) });
  if (typeof value === "boolean") return placed({ boolean: value });
  if (Array.isArray(value)) return placed({ list: each(value) });
  if (typeof value !== "object" || value === null) {
    throw refuse(value, path, "is no expression of CQL2");
  }
  const { op, args, property, date, timestamp, interval } = value as Record<string, unknown>;
  if (typeof property === "string") return placed({ property });
  if (typeof date === "string") return placed({ date });
  if (typeof timestamp === "string") return placed({ timestamp });
  if (Array.isArray(interval)) {
    const [start, end, more] = each(interval, "interval");
    if (start !== undefined && end !== undefined && more === undefined) {
      return placed({ interval: [start, end] });
    }
    throw refuse(value, path, "is an interval, which has a start and an end");
  }
  if (typeof op !== "string" || !Array.isArray(args)) {
    throw refuse(
      value,
      path,
      "has neither op and args nor a property, date, timestamp or interval",
    );
  }
  const [first] = args as readonly unknown[];
  // Digits that a number of JSON would round.
  if (op === "decimal" && typeof first === "string") return placed({ decimal: first });
  return placed({ op, args: each(args, "args") });
}
