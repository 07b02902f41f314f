import type { ColumnsCondition } from "../../../filters/index.js";
import { property } from "../building.js";
import type { Written } from "./common.js";

export const columnsWritten: Written<ColumnsCondition> = ({ left, comparison, right }) => ({
  op: comparison,
  args: [property(left), property(right)],
});
