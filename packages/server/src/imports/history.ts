import { type Load } from "../sources/index.js";
import type { LoadDescription } from "@orisma/contract";

/** A load of the past, as it is told; `inUse` is the load that the records come from. */
export function describeLoad(load: Load, inUse: number | null): LoadDescription {
  const { number, mode, state, file, bytes, sha256, refused, problem } = load;
  return {
    load: number,
    mode,
    state,
    file,
    bytes,
    sha256,
    startedAt: new Date(load.startedAt).toISOString(),
    endedAt: load.endedAt === null ? null : new Date(load.endedAt).toISOString(),
    refused,
    records: load.report?.records ?? null,
    problem,
    inUse: number === inUse,
  };
}
