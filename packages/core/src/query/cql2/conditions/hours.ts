import type { HoursCondition } from "../../../filters/index.js";
import { NO_RECORD } from "../../query.js";
import { not, property } from "../building.js";
import type { ComparedFunction, Written } from "./common.js";

export const hoursWritten: Written<HoursCondition> = ({ from, to, side, comparison, hours }) => {
  const call = { op: "hoursBetween", args: [property(from), property(to)] };
  const compared = { op: comparison, args: [call, { decimal: String(hours) }] };
  return side === "inside" ? compared : not(compared);
};

/** `hoursBetween(raised, closed) <= 4`. */
export const HOURS_BETWEEN: ComparedFunction = {
  compared: (call, comparison, right, operands) => {
    const [first, second] = call.args;
    if (first === undefined || second === undefined || comparison === "=" || comparison === "<>") {
      return operands.syntax(call, "takes two columns, and a bound of hours");
    }
    const [from, to, hours] = [
      operands.dates(first),
      operands.dates(second),
      operands.whole(right),
    ];
    if (from === null || to === null || hours === null) return NO_RECORD;
    return {
      kind: "value",
      id: "",
      origin: operands.origin(call),
      condition: { kind: "hours", from: from.name, to: to.name, side: "inside", comparison, hours },
    };
  },
};
