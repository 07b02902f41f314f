import { failure, fault, oneOf, success, type Fault, type Result } from "../faults/index.js";
import { BLANK_POLICIES, type BlankPolicy } from "../filters/index.js";
import type { ParameterDeclaration } from "./declaration.js";
import type { SentParameters } from "./sent.js";

/** The parameter that says what becomes of blanks. */
export function blankName(parameter: string): string {
  return `${parameter}.blank`;
}

/** The blank policy of a condition: as sent under either name of a pair, else as declared. */
export function readBlanks(
  group: readonly ParameterDeclaration[],
  sent: SentParameters,
): Result<BlankPolicy> {
  const faults: Fault[] = [];
  const said = new Map<string, BlankPolicy>();
  for (const { name } of group) {
    const values = sent.get(blankName(name)) ?? [];
    const value = values.length === 1 ? (values[0] ?? "").trim() : "";
    if (value === "") continue;
    const policy = BLANK_POLICIES.find((each) => each === value);
    if (policy !== undefined) said.set(blankName(name), policy);
    else {
      const place = { parameter: blankName(name), value };
      faults.push(fault("parameter.value", oneOf(value, BLANK_POLICIES), place));
    }
  }
  const [first, second] = [...said];
  if (first !== undefined && second !== undefined && first[1] !== second[1]) {
    const facts = { first: first[0], second: second[0] };
    faults.push(fault("parameter.conflict", facts, { parameter: second[0], value: second[1] }));
  }
  if (faults.length > 0) return failure(...faults);
  return success(first?.[1] ?? group[0]?.blanks ?? "exclude");
}
