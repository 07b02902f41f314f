import { UsageError } from "../context/failure.js";

/**
 * Reads `--from 2025-02-01 --to=2025-02-28` as parameters of a listing. A name given twice is
 * sent twice, so that the service can say so.
 */
export function readParameters(words: readonly string[]): Record<string, readonly string[]> {
  const parameters: Record<string, string[]> = {};
  for (let index = 0; index < words.length; index++) {
    const match = /^--([^=]+)(?:=(.*))?$/s.exec(words[index] ?? "");
    const name = match?.[1];
    if (name === undefined) {
      throw new UsageError(`${words[index] ?? ""} is not an option; write --NAME VALUE`);
    }
    const value = match?.[2] ?? words[++index];
    if (value === undefined) throw new UsageError(`--${name} needs a value`);
    (parameters[name] ??= []).push(value);
  }
  return parameters;
}
