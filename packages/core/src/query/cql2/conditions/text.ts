import { patternText, plainMatch, type TextCondition } from "../../../filters/index.js";
import { property } from "../building.js";
import type { Expression } from "../expression.js";
import { ofSide, withBlanks, type Written } from "./common.js";

export const textWritten: Written<TextCondition> = (condition) =>
  withBlanks(condition, textExpression(condition));

export function casedText(
  expression: Expression,
  caseSensitive: TextCondition["caseSensitive"],
): Expression {
  return caseSensitive ? expression : { op: "casei", args: [expression] };
}

function textExpression({ column, side, pattern, caseSensitive }: TextCondition): Expression {
  const plain = plainMatch(pattern);
  const [op, text] = plain?.match === "is" ? ["=", plain.text] : ["like", patternText(pattern)];
  const args = [property(column), { text }].map((each) => casedText(each, caseSensitive));
  return ofSide(side, column, { op, args });
}
