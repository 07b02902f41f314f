import { readFileSync } from "node:fs";
import { OrismaError } from "@orisma/client";
import type { RenderedFault } from "@orisma/core/internal";
import {
  DeclarationUnread,
  readDeclarationText,
  type DeclarationText,
} from "@orisma/client/declaration";
import { UsageError, faultText } from "../context/failure.js";

/** A declaration of a listing as it stands in a file. */
export interface DeclarationFile extends DeclarationText {
  readonly file: string;
}

/** Reads a declaration from a file. Throws where it cannot be read, with the line and the column. */
export function readDeclaration(file: string): DeclarationFile {
  let text: string;
  try {
    text = readFileSync(file, "utf8");
  } catch {
    throw new UsageError(`${file} cannot be read`);
  }
  try {
    return { file, ...readDeclarationText(text) };
  } catch (error) {
    if (!(error instanceof DeclarationUnread)) throw error;
    const { line, column } = error.place;
    throw new UsageError(`${file}:${line}:${column}: ${error.message}`);
  }
}

/** The faults of a declaration, each with its place in the file, in the order of the file. */
export function faultsIn(
  { file, placeOf, declaration }: DeclarationFile,
  error: unknown,
): readonly string[] | null {
  if (!(error instanceof OrismaError)) return null;
  const faults = error.problem?.faults ?? [];
  if (error.status !== 422 || faults.length === 0) return null;
  return faults
    .map((fault) => ({ fault, place: placeOf(fault.path ?? "") }))
    .sort((a, b) => a.place.line - b.place.line || a.place.column - b.place.column)
    .map(({ fault, place }) => {
      const hint = readingHint(fault, declaration.source);
      return `${file}:${place.line}:${place.column}: ${faultText(fault)}${hint}`;
    });
}

/** How a column that holds something else becomes one of dates. */
function readingHint({ code, value }: RenderedFault, source: string): string {
  if (code !== "column.notDate" || value === undefined) return "";
  return (
    `\n  to read it as dates: orisma sources reading ${source} --date ${value}, ` +
    `--local ${value} (with times) or --instant ${value}`
  );
}
