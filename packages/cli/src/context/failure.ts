import { OrismaError } from "@orisma/client";
import type { RenderedFault } from "@orisma/core/internal";

/** The command was used wrongly: exit code 2. */
export class UsageError extends Error {}

/** Exit codes of the command. */
export const EXIT = { done: 0, failed: 1, usedWrongly: 2 } as const;

/** The exit code of a failure: a value that the caller sent wrong is wrong use. */
export function exitCodeOf(error: unknown): number {
  if (error instanceof UsageError) return EXIT.usedWrongly;
  if (error instanceof OrismaError && error.status === 422) return EXIT.usedWrongly;
  return EXIT.failed;
}

/** A failure in words, one line a fault. */
export function failureText(error: unknown): string {
  if (!(error instanceof OrismaError)) {
    return `orisma: ${error instanceof Error ? error.message : String(error)}\n`;
  }
  const faults = error.problem?.faults ?? [];
  // What the service cannot do is reported whole: no value that was sent is at fault.
  if (faults.length === 0 || error.status >= 500) return `orisma: ${error.message}\n`;
  return faults.map((each) => `orisma: ${faultText(each)}\n`).join("");
}

/** A failure as a document: the problem that the service sent, or a message alone. */
export function failureJson(error: unknown): string {
  const message = error instanceof Error ? error.message : String(error);
  const problem = error instanceof OrismaError ? error.problem : null;
  return `${JSON.stringify(problem ?? { title: "Failed", detail: message }, null, 2)}\n`;
}

/** A fault in words, with what is accepted on lines of their own. */
export function faultText(found: RenderedFault): string {
  const { parameter, path, column, message, accepted, nearest = [] } = found;
  const meant = nearest.filter((each) => !message.includes(each)).join(" or ");
  // The values of an edit are typed as they stand.
  const named = path?.replace(/^values\./, "");
  const place = [parameter ?? named, column].filter((each) => each !== undefined).join(", ");
  return [
    place === "" ? message : `${place}: ${message}`,
    meant === "" ? null : `  did you mean ${meant}?`,
    accepted === undefined ? null : `  accepted: ${accepted}`,
  ]
    .filter((line) => line !== null)
    .join("\n");
}
