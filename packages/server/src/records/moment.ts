import {
  MOMENT_PARAMETERS,
  type ListingDeclaration,
  type MomentParameter,
} from "@orisma/core/internal";
import { mayAs, type Caller } from "../http/index.js";

/** Of the parameters that say when and where a request is understood those that a caller may send. */
export function allowedTo(
  caller: Caller,
  { allow = {} }: ListingDeclaration,
): readonly MomentParameter[] {
  return MOMENT_PARAMETERS.filter((name) => {
    const least = allow[name] ?? "author";
    return least !== "nobody" && mayAs(least, caller);
  });
}
