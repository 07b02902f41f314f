import { fault, type Fault } from "../faults/index.js";
import { isNotGiven } from "../windows/index.js";
import { takesDates, type ListingDeclaration, type ParameterDeclaration } from "./declaration.js";
import type { SentParameters } from "./sent.js";

/** What was sent, with the defaults of what was not given. */
export interface GivenParameters {
  readonly sent: SentParameters;
  /** The defaults that took effect, by parameter. */
  readonly defaults: Readonly<Record<string, readonly string[]>>;
  /** `parameter.required` for each that must be given, and is not. */
  readonly faults: readonly Fault[];
}

/** The default that is shown to people and is no condition until it is changed. */
export const EXTENT = "extent";

/** Adds the defaults of a listing to what was sent. */
export function withDefaults(listing: ListingDeclaration, sent: SentParameters): GivenParameters {
  const faults: Fault[] = [];
  const defaults: Record<string, readonly string[]> = {};
  for (const parameter of listing.parameters) {
    const { name, default: declared, required } = parameter;
    if ((declared === undefined && required !== true) || isGiven(parameter, sent)) continue;
    const values =
      declared === undefined ? [] : typeof declared === "string" ? [declared] : declared;
    if (values.length > 0 && declared !== EXTENT) defaults[name] = values;
    else if (required === true)
      faults.push(fault("parameter.required", { name }, { parameter: name }));
  }
  const isAlone = Object.keys(defaults).length === 0;
  const all = isAlone ? sent : new Map([...sent, ...Object.entries(defaults)]);
  return { sent: all, defaults, faults };
}

/** Whether something was given, be it an explicit `..`. */
function isGiven(parameter: ParameterDeclaration, sent: SentParameters): boolean {
  const { name, type } = parameter;
  const fields = takesDates(parameter) ? Object.values(parameter.fields ?? {}) : [];
  const isText = type === "text" || type === "search" || type === "oneOf" || type === "several";
  return [name, ...fields].some((each) =>
    (sent.get(each) ?? []).some((text) => (isText ? text.trim() !== "" : !isNotGiven(text.trim()))),
  );
}
