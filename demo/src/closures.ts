import { clockText, written } from "./days.js";
import { LOCKS } from "./places.js";
import { diceFor } from "./random.js";

/** One closure of the navigation, as the trust's web site keeps it. */
export interface Closure {
  readonly closure: number;
  readonly lock: string;
  readonly reason: string;
  /** Wall-clock times; the end is null, or in words, where it is not known. */
  readonly starts: string;
  readonly ends: string | null;
  /** Seconds since 1970. */
  readonly published: number;
  readonly towpathOpen: boolean;
  /** Whom the trust notified of it, and on which days. */
  readonly notices: readonly { readonly given: string; readonly to: string }[];
}

const REASONS = [
  "gate repair",
  "culvert inspection",
  "low water",
  "fallen tree",
  "stoppage for dredging",
  "ice",
] as const;
const CLOSURES = 240;
const DAYS_AHEAD = 90;

/** The closures as they stand on a day (days since 1970-01-01), the earliest first. */
export function closures(seed: number, today: number): readonly Closure[] {
  const found: Closure[] = [];
  for (let day = today + DAYS_AHEAD; found.length < CLOSURES; day--) {
    const dice = diceFor(seed, CLOSURES_PLACE, day);
    if (dice.below(6) !== 0) continue;
    const hour = 6 + dice.below(5);
    const days = dice.pick([0, 0, 1, 3, 10, 40]);
    const isOpenEnded = dice.below(8) === 0;
    found.push({
      closure: day * 10,
      lock: dice.pick(LOCKS).number,
      reason: dice.pick(REASONS),
      starts: `${written(day, "yyyy-MM-dd")} ${clockText(hour * 60)}`,
      ends: isOpenEnded
        ? dice.pick([null, "until further notice"])
        : `${written(day + days, "yyyy-MM-dd")} ${clockText((hour + 7) * 60)}`,
      published: (day - 3 - dice.below(20)) * 86_400 + dice.below(86_400),
      towpathOpen: dice.below(3) > 0,
      notices: noticesOf(seed, day),
    });
  }
  return found.reverse();
}

/** Dice of their own, so that what they fall on leaves the closures as they are. */
function noticesOf(seed: number, day: number): Closure["notices"] {
  const dice = diceFor(seed, CLOSURES_PLACE, day, 1);
  return Array.from({ length: dice.below(4) }, () => ({
    given: written(day - dice.below(21), "yyyy-MM-dd"),
    to: dice.pick(TOLD),
  }));
}

const TOLD = ["boaters", "anglers", "walkers", "the parish"] as const;

/** Separates the dice of closures from those of other records of a day. */
const CLOSURES_PLACE = -2;

/** The closures as one array of JSON. */
export function closuresJson(seed: number, today: number): string {
  return `${JSON.stringify(closures(seed, today), null, 2)}\n`;
}
