import { failure, fault, success, type Result } from "../faults/index.js";
import type { Fragment } from "./fragment.js";

/** A step into a document: a member by its name, an element by its place, or every element. */
export type JsonStep =
  | { readonly name: string }
  | { readonly index: number }
  | { readonly every: true };
export type JsonPath = readonly JsonStep[];

/** Steps that a path may have. */
const MAX_STEPS = 20;
/** Characters that a name has none of, since a path is a part of a statement's text. */
const DISABLED = /["'\\`\p{Cc}]/u;
const STEP =
  /^(?:\.([A-Za-z_][A-Za-z0-9_]*)|\[(\d{1,6})\]|(\[\*\])|\["([^"]{1,128})"\]|\['([^']{1,128})'\])/;

/**
 * Reads a path into a document: `$`, then `.name`, `['name']`, `[0]` or `[*]`, a part of JSONPath.
 *
 * Fails with `path.form`.
 *
 * @see RFC 9535, section 2
 */
export function readJsonPath(text: string): Result<JsonPath> {
  const refused = () => failure(fault("path.form", { text }, { value: text }));
  if (!text.startsWith("$")) return refused();
  const steps: JsonStep[] = [];
  for (let rest = text.slice(1); rest !== "";) {
    const match = STEP.exec(rest);
    if (match === null || steps.length === MAX_STEPS) return refused();
    const [whole, plain, index, every, double, single] = match;
    const name = plain ?? double ?? single;
    if (name !== undefined && DISABLED.test(name)) return refused();
    if (name !== undefined) steps.push({ name });
    else steps.push(every === undefined ? { index: Number(index) } : { every: true });
    rest = rest.slice(whole.length);
  }
  return success(steps);
}

/** Whether a path names several values of one document. */
export function namesSeveral(path: JsonPath): boolean {
  return path.some((step) => "every" in step);
}

/** A path as MariaDB has it, within quotes; its names have no character that could end them. */
export function pathText(path: JsonPath): Fragment {
  const steps = path.map((step) => {
    if ("every" in step) return "[*]";
    return "name" in step ? `."${step.name}"` : `[${step.index}]`;
  });
  return { kind: "text", text: `'$${steps.join("")}'` };
}
