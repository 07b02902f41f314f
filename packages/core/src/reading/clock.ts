import {
  UTC,
  dayOf,
  dayStart,
  epochMs,
  readWall,
  wallAt,
  wallMs,
  type EpochMs,
  type WallMs,
  type Zone,
} from "../calendar/index.js";
import { fault } from "../faults/index.js";
import { unreadable, type Cell, type DateKind } from "./cell.js";

/** Converts what was read to the kind of a reading, and back. */
export class Clock {
  constructor(
    readonly kind: DateKind,
    readonly zone: Zone | null,
  ) {}

  /** A cell for a wall-clock time, with the offset that was written, if any. */
  fromWall(wall: WallMs, offset: number | null, text: string): Cell {
    if (offset !== null) return this.fromOffset(wall, offset, text);
    switch (this.kind) {
      case "date":
        return { state: "dated", ms: dayStart(dayOf(wall)) };
      case "local":
        return { state: "dated", ms: wall };
      case "instant":
        return this.#instantOf(wall, text);
    }
  }

  fromOffset(wall: WallMs, offset: number, text: string): Cell {
    const instant = epochMs(wall - offset);
    if (this.kind === "instant") return { state: "dated", ms: instant };
    // On which day it lies depends on whose clock is meant.
    if (this.zone === null) return unreadable(fault("date.offsetRefused", { text }));
    return this.fromInstant(instant);
  }

  /** A cell for a point in time, seen in the reading's zone. */
  fromInstant(instant: EpochMs): Cell {
    if (this.kind === "instant") return { state: "dated", ms: instant };
    const wall = wallAt(this.zone ?? UTC, instant);
    return { state: "dated", ms: this.kind === "date" ? dayStart(dayOf(wall)) : wall };
  }

  #instantOf(wall: WallMs, text: string): Cell {
    if (this.zone === null) return unreadable(fault("date.form", { text }));
    const found = readWall(this.zone, wall);
    switch (found.kind) {
      case "once":
        return { state: "dated", ms: found.instant };
      case "twice":
        // The first of the two, as RFC 5545 section 3.3.5 has it.
        return { state: "dated", ms: found.earlier };
      case "never":
        return unreadable(fault("date.skipped", { text, zone: this.zone.id }));
    }
  }

  /** The wall-clock time of a cell's `ms`, in the zone in which {@link fromWall} reads it. */
  wallOf(ms: number): WallMs {
    return this.kind === "instant" ? wallAt(this.zone ?? UTC, epochMs(ms)) : wallMs(ms);
  }

  /** The point in time of a cell's `ms`; for a day its first moment. */
  instantOf(ms: number): EpochMs {
    if (this.kind === "instant") return epochMs(ms);
    const found = readWall(this.zone ?? UTC, wallMs(ms));
    if (found.kind === "never") return found.change;
    return found.kind === "once" ? found.instant : found.earlier;
  }
}
