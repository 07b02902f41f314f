import type { FaultFacts } from "./registry.js";

/** A stable code; see the registry for what each means. */
export type FaultCode = keyof FaultFacts;

/** Where in the input a fault lies, and the value found there. */
export interface FaultPlace {
  /** The parameter that was sent, for requests. */
  readonly parameter?: string;
  /** A path such as `parameters.0.column`, for documents. */
  readonly path?: string;
  /** The column of whose dates or values it speaks, where the input does not name it itself. */
  readonly column?: string;
  /** The value as it came; cut short when rendered. */
  readonly value?: string;
  /** What was probably meant instead, one or several; it comes before the nearest name of the code itself. */
  readonly meant?: readonly string[];
  /** What is accepted there too, beside what the code says: the patterns that a listing declares. */
  readonly declaredForm?: string;
}

/** An expected failure as data; the prose is made by {@link renderFault}. */
export type Fault = {
  [Code in FaultCode]: FaultPlace & { readonly code: Code; readonly facts: FaultFacts[Code] };
}[FaultCode];

/** Makes a fault of one code with the facts that the code demands. */
export function fault<Code extends FaultCode>(
  code: Code,
  facts: FaultFacts[Code],
  place: FaultPlace = {},
): Fault {
  return { code, facts, ...place } as Fault;
}

/** The same fault at a place that only the caller knows. */
export function withLocation(found: Fault, place: FaultPlace): Fault {
  return { ...found, ...place };
}
