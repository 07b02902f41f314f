import type { Load } from "./entities.js";
import type { LoadMode } from "./modes.js";

/** A load of the past, as it is told. */
export interface LoadDescription {
  readonly load: number;
  readonly mode: LoadMode;
  readonly state: Load["state"];
  readonly file: string | null;
  readonly bytes: number;
  readonly sha256: string;
  readonly startedAt: string;
  readonly endedAt: string | null;
  readonly refused: number;
  readonly records: number | null;
  readonly problem: string | null;
  /** Whether the records are what this load made them. */
  readonly inUse: boolean;
}

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
