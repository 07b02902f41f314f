import { fault, type Fault } from "../faults/index.js";

const NAME = /^[A-Za-z][A-Za-z0-9_-]{0,63}$/;

/**
 * The fault of a text that cannot name a source, listing or parameter, or null.
 * A name is a letter, then letters, digits, `-` or `_`, 64 at most.
 */
export function nameFault(name: string, path: string): Fault | null {
  return NAME.test(name) ? null : fault("name.form", { name }, { path, value: name });
}

/** Characters of a name made of a file's: what is put behind it to tell it from others has room. */
const FROM_FILE = 56;

/** A name from that of a file: `tolls paid 2025.json.gz` is `tolls-paid-2025`. */
export function nameFromFile(file: string): string {
  const bare = file
    .replace(/\.gz$/i, "")
    .replace(/\.[^.]*$/, "")
    .replace(/[^A-Za-z0-9_-]+/g, "-")
    .replace(/^[^A-Za-z]+|-+$/g, "");
  return (bare === "" ? "source" : bare).slice(0, FROM_FILE);
}
