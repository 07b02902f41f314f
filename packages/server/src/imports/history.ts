import { type FileImport } from "../sources/index.js";
import type { ImportDescription } from "@orisma/contract";

/** An import of the past, as it is returned; `inUse` is the import that the records come from. */
export function describeImport(fileImport: FileImport, inUse: number | null): ImportDescription {
  const { number, mode, state, file, bytes, sha256, refused, problem } = fileImport;
  return {
    number,
    mode,
    state,
    file,
    bytes,
    sha256,
    startedAt: new Date(fileImport.startedAt).toISOString(),
    endedAt: fileImport.endedAt === null ? null : new Date(fileImport.endedAt).toISOString(),
    refused,
    records: fileImport.report?.records ?? null,
    problem,
    inUse: number === inUse,
  };
}
