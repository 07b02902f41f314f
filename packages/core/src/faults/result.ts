import type { Fault } from "./fault.js";

/** Success with a value, or every fault found, in the order of the input. */
export type Result<T> = { readonly ok: true; readonly value: T } | Failure;

/** Every fault found. */
export interface Failure {
  readonly ok: false;
  readonly faults: readonly Fault[];
}

/** Wraps a value as success. */
export function success<T>(value: T): Result<T> {
  return { ok: true, value };
}

/** Wraps one or more faults as failure. */
export function failure(...faults: readonly Fault[]): Failure {
  return { ok: false, faults };
}
