import { decimalOf } from "../../filters/index.js";
import { OWN_FUNCTIONS, type Expression } from "./expression.js";
import { shown } from "./read-text.js";

/** What binds an expression together, the loosest first. */
const LOOSE = { or: 1, and: 2, not: 3, predicate: 4 } as const;

/** The text form of an expression, which `readCql2Text` reads back as the same. */
export function cql2Text(expression: Expression): string {
  return textOf(expression, 0);
}

function textOf(expression: Expression, around: number): string {
  if (!("op" in expression)) return scalarText(expression);
  const { op, args } = expression;
  const [first, second, third] = args;
  const bracketed = (own: number, text: string) => (own < around ? `(${text})` : text);
  const part = (each: Expression | undefined, own = 0) =>
    each === undefined ? "" : textOf(each, own);
  switch (op) {
    case "or":
    case "and": {
      const own = LOOSE[op];
      const word = op === "or" ? " OR " : " AND ";
      return bracketed(own, args.map((each) => textOf(each, own + 1)).join(word));
    }
    case "not":
      return bracketed(LOOSE.not, `NOT ${part(first, LOOSE.predicate)}`);
    case "between":
      return bracketed(LOOSE.not, `${part(first)} BETWEEN ${part(second)} AND ${part(third)}`);
    case "like":
      return `${part(first)} LIKE ${part(second)}`;
    case "in":
      return `${part(first)} IN ${part(second)}`;
    case "isNull":
      return `${part(first)} IS NULL`;
  }
  if (/^\W/.test(op)) return `${part(first)} ${op} ${part(second)}`;
  return `${shown(op)}(${args.map((each) => textOf(each, 0)).join(", ")})`;
}

function scalarText(expression: Exclude<Expression, { readonly op: string }>): string {
  if ("text" in expression) return quoted(expression.text);
  if ("decimal" in expression) return expression.decimal;
  if ("boolean" in expression) return expression.boolean ? "TRUE" : "FALSE";
  if ("property" in expression) return nameText(expression.property);
  if ("date" in expression) return `DATE(${quoted(expression.date)})`;
  if ("timestamp" in expression) return `TIMESTAMP(${quoted(expression.timestamp)})`;
  if ("list" in expression) return `(${expression.list.map((each) => textOf(each, 0)).join(", ")})`;
  const [start, end] = expression.interval;
  return `INTERVAL(${textOf(start, 0)}, ${textOf(end, 0)})`;
}

function quoted(text: string): string {
  return `'${text.replaceAll("'", "''")}'`;
}

const WORDS = new Set(
  ["and", "or", "not", "between", "in", "like", "is", "null", "true", "false"].concat(
    OWN_FUNCTIONS.map((name) => name.toLowerCase()),
  ),
);

function nameText(name: string): string {
  const isPlain = /^[A-Za-z_][A-Za-z0-9_]*$/.test(name) && !WORDS.has(name.toLowerCase());
  return isPlain ? name : `"${name.replaceAll('"', '""')}"`;
}

/** A number, or where it would be rounded its digits. */
function jsonNumber(decimal: string): unknown {
  const isExact = decimalOf(String(Number(decimal))) === decimalOf(decimal);
  return isExact ? Number(decimal) : { op: "decimal", args: [decimal] };
}

/** The JSON form of an expression, as a document to be written. */
export function cql2Json(expression: Expression): unknown {
  if ("text" in expression) return expression.text;
  if ("decimal" in expression) return jsonNumber(expression.decimal);
  if ("boolean" in expression) return expression.boolean;
  if ("list" in expression) return expression.list.map(cql2Json);
  if ("interval" in expression) return { interval: expression.interval.map(cql2Json) };
  if ("op" in expression) return { op: expression.op, args: expression.args.map(cql2Json) };
  return expression;
}
