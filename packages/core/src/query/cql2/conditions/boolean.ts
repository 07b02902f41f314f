import type { BooleanCondition } from "../../../filters/index.js";
import { property } from "../building.js";
import { withBlanks, type Written } from "./common.js";

export const booleanWritten: Written<BooleanCondition> = (condition) => {
  const args = [property(condition.column), { boolean: condition.side === "inside" }];
  return withBlanks(condition, { op: "=", args });
};
