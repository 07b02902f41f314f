import type { SentParameters } from "@orisma/core/internal";

/**
 * The parameters of a request's address, each with its values in the order of sending, read
 * as `application/x-www-form-urlencoded` (URL Standard, section 5.1).
 */
export function sentParameters(originalUrl: string): SentParameters {
  const start = originalUrl.indexOf("?");
  const sent = new Map<string, string[]>();
  if (start < 0) return sent;
  for (const [name, value] of new URLSearchParams(originalUrl.slice(start + 1))) {
    const values = sent.get(name);
    if (values === undefined) sent.set(name, [value]);
    else values.push(value);
  }
  return sent;
}

/** Values by parameter, as they are sent in a URL. */
export function sentValues(
  values: Readonly<Record<string, string | readonly string[]>>,
): SentParameters {
  return new Map(
    Object.entries(values).map(([name, each]) => [name, typeof each === "string" ? [each] : each]),
  );
}
