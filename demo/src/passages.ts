import { findZone, isoInstant, epochMs, isoWall, wallAt } from "@orisma/core/internal";
import { LOCKS } from "./places.js";
import { diceFor } from "./random.js";

/** One boat through one lock, as the lock's counter sends it. */
export interface Passage {
  readonly passage: string;
  /** A point in time with the offset of the day: `2025-06-01T14:05:09+01:00`. */
  readonly passed_at: string;
  readonly lock: string;
  readonly direction: "up" | "down";
  readonly boat: string;
  /** In metres. */
  readonly length: number;
  /** In pence. */
  readonly toll: number;
}

export const PASSAGES = 50_000;

const BOATS = ["narrowboat", "cruiser", "dinghy", "workboat", "barge"] as const;
const ZONE = findZone("Europe/London");

/** The passages up to the end of a day (days since 1970-01-01), the latest first. */
export function* passages(seed: number, today: number, count = PASSAGES): Generator<Passage> {
  let total = 0;
  for (let day = today; total < count; day--) {
    const ofDay = diceFor(seed, PASSAGES_PLACE, day);
    // Few boats go in winter.
    const season = 1 + Math.cos(((day % 365.25) / 365.25 - 0.55) * 2 * Math.PI);
    const number = Math.round(8 + season * 26 + ofDay.below(12));
    for (let index = number - 1; index >= 0 && total < count; index--, total++) {
      yield passage(seed, day, index, number);
    }
  }
}

function passage(seed: number, day: number, index: number, number: number): Passage {
  const dice = diceFor(seed, PASSAGES_PLACE, day, index);
  // Spread over the day from five in the morning to ten at night, now and then at midnight.
  const second =
    dice.below(200) === 0 ? 0 : 18_000 + Math.floor(((index + dice.next()) / number) * 61_200);
  return {
    passage: `P-${day}-${String(index).padStart(3, "0")}`,
    passed_at: londonTime(day * 86_400_000 + second * 1_000),
    lock: dice.pick(LOCKS).number,
    direction: dice.pick(["up", "down"]),
    boat: dice.pick(BOATS),
    length: 3 + dice.below(190) / 10,
    toll: dice.below(4) === 0 ? 0 : 250 + dice.below(30) * 25,
  };
}

/** Separates the dice of passages from those of other records of a day. */
const PASSAGES_PLACE = -3;

function londonTime(ms: number): string {
  if (!ZONE.ok) return isoInstant(epochMs(ms));
  const wall = wallAt(ZONE.value, epochMs(ms));
  const offset = wall === ms ? "+00:00" : "+01:00";
  return `${isoWall(wall)}${offset}`;
}

/** The passages as NDJSON, in pieces. */
export function* passagesNdjson(seed: number, today: number, count = PASSAGES): Generator<string> {
  let lines: string[] = [];
  for (const each of passages(seed, today, count)) {
    lines.push(`${JSON.stringify(each)}\n`);
    if (lines.length < 1_000) continue;
    yield lines.join("");
    lines = [];
  }
  yield lines.join("");
}
