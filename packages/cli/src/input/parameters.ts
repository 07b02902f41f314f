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
    const meant = error instanceof OrismaError ? meantBy(error, parameters) : null;
    if (meant === null) throw error;
    return send({ ...parameters, ...meant });
  }
}

/** The parameters of which a refusal speaks, as the windows that they mean; null where any of them is no phrase. */
function meantBy({ problem }: OrismaError, parameters: Parameters): Parameters | null {
  const meant: Record<string, readonly string[]> = {};
  for (const { parameter = "", nearest } of problem?.faults ?? []) {
    const [text, ...others] = parameters[parameter] ?? [];
    if (text === undefined || others.length > 0 || nearest === undefined) return null;
    if (!isPhrase(text)) return null;
    meant[parameter] = [nearest];
  }
  return Object.keys(meant).length === 0 ? null : meant;
}

/** Whether a text is a phrase with one meaning: which dates that is, the service says. */
function isPhrase(text: string): boolean {
  return readOnePhrase(text, { asOf: epochMs(Date.now()), zone: UTC }).ok;
}
