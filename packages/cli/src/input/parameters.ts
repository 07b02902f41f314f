import { OrismaError } from "@orisma/client";
import { UTC, epochMs, readOnePhrase } from "@orisma/core/internal";
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

/** Parameters of a listing by name, as they are sent. */
export type Parameters = Readonly<Record<string, readonly string[]>>;

/**
 * Sends a request; where the service refuses dates of it that are phrases with one meaning each, sends it once more
 * with the windows that they are as the service says: by its clock, and in the listing's zone.
 */
export async function withPhrases<T>(
  parameters: Parameters,
  send: (parameters: Parameters) => Promise<T>,
): Promise<T> {
  try {
    return await send(parameters);
  } catch (error) {
    const windows = error instanceof OrismaError ? windowsFor(error, parameters) : null;
    if (windows === null) throw error;
    return send({ ...parameters, ...windows });
  }
}

/** The refused parameters, as the windows that they mean; null where any of them is not a phrase. */
function windowsFor({ problem }: OrismaError, parameters: Parameters): Parameters | null {
  const windows: Record<string, readonly string[]> = {};
  for (const { parameter = "", nearest } of problem?.faults ?? []) {
    const [text, ...others] = parameters[parameter] ?? [];
    const [window, ...readings] = nearest ?? [];
    if (text === undefined || others.length > 0) return null;
    if (window === undefined || readings.length > 0 || !isMeaningOf(window, text)) return null;
    windows[parameter] = [window];
  }
  return Object.keys(windows).length === 0 ? null : windows;
}

/**
 * Whether a window is what a text means as a phrase, and not the right spelling of one of its words. Its days are left
 * to the service, whose clock and zone may be others; a single date is not a window of two ends.
 */
function isMeaningOf(window: string, text: string): boolean {
  const read = readOnePhrase(text, { asOf: epochMs(Date.now()), zone: UTC });
  const hasEnds = (each: string) => /[/|;]/.test(each);
  return read.ok && hasEnds(read.value) === hasEnds(window);
}
