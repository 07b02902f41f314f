import { fault, type Fault } from "../faults/index.js";

/** How several values of a parameter are sent: `rating=R&rating=PG`. */
export function repeatedParameter(name: string, values: readonly string[]): string {
  return values.map((value) => `${name}=${value}`).join("&");
}

/** The values of a text that is several with commas between; empty for one value. */
export function valuesWithCommas(text: string): readonly string[] {
  const values = text.split(",").map((value) => value.trim());
  return values.length > 1 && values.every((value) => value !== "") ? values : [];
}

/**
 * `parameter.list`: a text that is no value of a parameter, but several of its values with commas
 * between. Null for any other text.
 */
export function listFault(
  parameter: string,
  text: string,
  isKnown: (value: string) => boolean,
): Fault | null {
  const values = valuesWithCommas(text);
  if (values.length === 0 || !values.every(isKnown)) return null;
  const facts = { text, separate: repeatedParameter(parameter, values) };
  return fault("parameter.list", facts, { parameter, value: text });
}
