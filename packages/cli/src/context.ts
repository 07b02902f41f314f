import type { OrismaClient } from "@orisma/client";

/** What every command works with. */
export interface Context {
  /** The service; looked for only when a command asks. */
  readonly client: () => OrismaClient;
  /** Writes what was asked for; waits for a slow reader, so that memory stays flat. */
  readonly print: (text: string) => Promise<void>;
  /** Writes what is told beside it. */
  readonly note: (text: string) => void;
}

/** Examples for the end of a command's help. */
export function examples(...lines: readonly string[]): string {
  return `\nExamples:\n${lines.map((line) => `  ${line}\n`).join("")}`;
}

/** Gathers an option that may be given several times. */
export function collect(value: string, before: readonly string[]): readonly string[] {
  return [...before, value];
}

/** A document of the service, as `--json` prints it. */
export function toJson(value: unknown): string {
  return `${JSON.stringify(value, null, 2)}\n`;
}
