import type { Fault } from "./fault.js";
import { failure, success, type Result } from "./result.js";

/** Carries a fault out of the depth of a reader; caught by {@link catchFault} alone. */
export class Refused extends Error {
  constructor(readonly fault: Fault) {
    super(fault.code);
  }
}

/** What a reader gives, or the fault with which it stopped. */
export function catchFault<T>(read: () => T): Result<T> {
  try {
    return success(read());
  } catch (error) {
    if (error instanceof Refused) return failure(error.fault);
    throw error;
  }
}
