import {
  dayOf,
  epochMs,
  isoDay,
  isoInstant,
  isoWall,
  longDay,
  longDateTime,
  wallMs,
} from "../calendar/index.js";
import {
  failure,
  renderFault,
  renderNotice,
  success,
  type RenderedFault,
  type RenderedNotice,
  type Result,
} from "../faults/index.js";
import type { Cell, CellState, DateKind } from "./cell.js";
import { compileReading, type Reading } from "./reading.js";

/** What one value is under a reading, as it is sent. */
export interface ReadAnswer {
  readonly state: CellState;
  /** The value as it came. */
  readonly value: string | number | null;
  /** `2024-03-05`, `2024-03-05T18:00:00`, or an instant with `Z`, by the kind of the reading. */
  readonly date?: string;
  /** The same in words: `5 March 2024`. */
  readonly long?: string;
  readonly fault?: RenderedFault;
  readonly notices?: readonly RenderedNotice[];
}

/**
 * Reads values under a reading, in the order given, with each date echoed in long form.
 * Fails with the faults of the reading itself; a value that cannot be read is an answer.
 */
export function readValues(
  values: readonly (string | number | null)[],
  reading: Reading,
): Result<readonly ReadAnswer[]> {
  const compiled = compileReading(reading);
  if (!compiled.ok) return failure(...compiled.faults);
  const ready = compiled.value;
  return success(values.map((value) => answerOf(value, ready.read(value), ready.kind)));
}

function answerOf(value: string | number | null, cell: Cell, kind: DateKind): ReadAnswer {
  switch (cell.state) {
    case "blank":
      return { state: "blank", value };
    case "unreadable":
      return { state: "unreadable", value, fault: renderFault(cell.fault) };
    case "dated": {
      const notices = cell.notices?.map(renderNotice);
      return {
        state: "dated",
        value,
        date: dateText(cell.ms, kind),
        long: cellInWords(cell.ms, kind),
        ...(notices === undefined ? {} : { notices }),
      };
    }
  }
}

/** A dated cell in the standard form of its kind (ISO 8601). */
export function dateText(ms: number, kind: DateKind): string {
  switch (kind) {
    case "date":
      return isoDay(dayOf(wallMs(ms)));
    case "local":
      return isoWall(wallMs(ms));
    case "instant":
      return isoInstant(epochMs(ms));
  }
}

/**
 * A date in the standard form of its kind in milliseconds of its own face, as {@link dateText} takes
 * them; NaN for any other text.
 */
export function dateTextMs(text: string): number {
  const isWhole = text.length === "2025-02-28".length || text.endsWith("Z");
  return Date.parse(isWhole ? text : `${text}Z`);
}

/** A dated cell as people read it: `28 February 2025`, `28 February 2025, 14:30`, the latter with UTC for an instant. */
export function cellInWords(ms: number, kind: DateKind): string {
  if (kind === "date") return longDay(dayOf(wallMs(ms)));
  return kind === "local" ? longDateTime(wallMs(ms)) : `${longDateTime(wallMs(ms))} UTC`;
}
