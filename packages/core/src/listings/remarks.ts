import { takesDates, type ListingDeclaration, type ParameterDeclaration } from "./declaration.js";
import { EXTENT } from "./given.js";

/**
 * What is allowed in a declaration, and seldom meant: two ends of a range that have the same default, and
 * limits that leave a single date.
 *
 * @example remarksOn(listing) // ["from and to have the same default, 2025: without …"]
 */
export function remarksOn({ parameters }: ListingDeclaration): readonly string[] {
  return [
    ...parameters.flatMap((each, index) => pairRemarks(each, parameters.slice(index + 1))),
    ...parameters.flatMap(limitRemarks),
  ];
}

function pairRemarks(
  { name, pair, default: value }: ParameterDeclaration,
  later: readonly ParameterDeclaration[],
): readonly string[] {
  const other = pair === undefined ? undefined : later.find((each) => each.pair === pair);
  const isAlike = value !== undefined && value !== EXTENT && alike(value, other?.default);
  if (other === undefined || !isAlike) return [];
  return [
    `${name} and ${other.name} have the same default, ${String(value)}: without a value nothing beyond it is matched`,
  ];
}

function limitRemarks(parameter: ParameterDeclaration): readonly string[] {
  const { earliest, latest } = takesDates(parameter) ? (parameter.limits ?? {}) : {};
  if (earliest === undefined || !alike(earliest, latest)) return [];
  return [
    `${parameter.name} takes no date but ${earliest}: its earliest and its latest are the same`,
  ];
}

function alike(first: string | readonly string[], second: string | readonly string[] | undefined) {
  return second !== undefined && String(first).trim() === String(second).trim();
}
