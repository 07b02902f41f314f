import { patternText, plainMatch, type TextCondition } from "../../../filters/index.js";
import { property } from "../building.js";
import type { Expression } from "../expression.js";
import { ofSide, withBlanks, type Written } from "./common.js";

export const textWritten: Written<TextCondition> = (condition) =>
  withBlanks(condition, textExpression(condition));

export function casedText(
  expression: Expression,
  letterCase: TextCondition["letterCase"],
): Expression {
  return letterCase === "folded" ? { op: "casei", args: [expression] } : expression;
}

function textExpression({ column, side, pattern, letterCase }: TextCondition): Expression {
  const plain = plainMatch(pattern);
  const [op, text] = plain?.match === "is" ? ["=", plain.text] : ["like", patternText(pattern)];
  const args = [property(column), { text }].map((each) => casedText(each, letterCase));
  return ofSide(side, column, { op, args });
}
