import type { StateCondition } from "../../../filters/index.js";
import { property } from "../building.js";
import { isNull, type Written } from "./common.js";

export const stateWritten: Written<StateCondition> = ({ column, state }) =>
  state === "blank" ? isNull(column) : { op: state, args: [property(column)] };
