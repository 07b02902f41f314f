import { tableText } from "./table-text.js";
import { clockText, written } from "./days.js";
import { diceFor } from "./random.js";

/** One reading of a water level. */
export interface Level {
  readonly gauge: string;
  /** `20250301`. */
  readonly day: string;
  readonly time: string;
  /** In millimetres above the weir; empty where the gauge did not answer. */
  readonly level: string;
}

const GAUGES = ["Brindle Head", "Hollin Weir", "Long Pound", "Marsh End"] as const;
const HOURS = 24;

/** The levels of one day (days since 1970-01-01); a running day has those of its hours so far. */
export function levels(seed: number, day: number, hours = HOURS): readonly Level[] {
  return GAUGES.flatMap((gauge, number) =>
    Array.from({ length: hours }, (_, hour) => {
      const dice = diceFor(seed, GAUGES_PLACE, day, number * HOURS + hour);
      const level = 600 + number * 140 + Math.round(90 * Math.sin(day / 29)) + dice.below(25);
      return {
        gauge,
        day: written(day, "yyyyMMdd"),
        time: clockText(hour * 60),
        level: dice.below(150) === 0 ? "" : String(level),
      };
    }),
  );
}

/** Separates the dice of gauges from those of other records of a day. */
const GAUGES_PLACE = -4;

/** `gauges_20250301`: the name of the table of a day. */
export function gaugesTable(day: number): string {
  return `gauges_${written(day, "yyyyMMdd")}`;
}

/** The levels of a day as tab-separated text. */
export function gaugesTsv(seed: number, day: number, hours = HOURS): string {
  return tableText([...levels(seed, day, hours)], { delimiter: "\t" });
}
