import type { Catalogue, OneOfCondition } from "../../../filters/index.js";
import { property } from "../building.js";
import type { Expression } from "../expression.js";
import { ofSide, withBlanks, type Written } from "./common.js";
import { casedText } from "./text.js";

export const oneOfWritten: Written<OneOfCondition> = (condition, columns) =>
  withBlanks(condition, oneOfExpression(condition, columns));

function oneOfExpression(
  { column, side, values, caseSensitive }: OneOfCondition,
  columns: Catalogue,
): Expression {
  if (values.length === 0) return ofSide(side, column, null);
  const isText = columns.get(column)?.type === "text";
  const list = values.map((each) =>
    isText ? casedText({ text: each }, caseSensitive) : { decimal: each },
  );
  const subject = isText ? casedText(property(column), caseSensitive) : property(column);
  return ofSide(side, column, { op: "in", args: [subject, { list }] });
}
