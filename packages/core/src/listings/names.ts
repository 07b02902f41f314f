import { fault, type Fault } from "../faults/index.js";

const NAME = /^[A-Za-z][A-Za-z0-9_-]{0,63}$/;

/**
 * The fault of a text that cannot name a source, listing or parameter, or null.
 * A name is a letter, then letters, digits, `-` or `_`, 64 at most.
 */
export function nameFault(name: string, path: string): Fault | null {
  return NAME.test(name) ? null : fault("name.form", { name }, { path, value: name });
}
