import { tableText } from "./table-text.js";
import { PLACES } from "./places.js";
import { written, yearOf } from "./days.js";
import { diceFor, type Dice } from "./random.js";

/** One work order, as the trust's own program writes it out: dates as dd/MM/yyyy. */
export interface WorkOrder {
  readonly order: string;
  readonly reported_on: string;
  readonly due_on: string;
  readonly finished_on: string;
  readonly place: string;
  readonly task: string;
  readonly priority: string;
  readonly status: string;
  /** In pence. */
  readonly cost: string;
}

/** Orders in the file; with the rate below they reach back about four years. */
const ORDERS = 2_400;
/** Days ahead for which planned maintenance is already reported. */
const DAYS_AHEAD = 45;

const TASKS = [
  "Grease the paddle gear",
  "Clear weed from the bywash",
  "Replace a balance beam",
  "Repoint the chamber wall",
  "Dredge the approach",
  "Repair the towpath, north side",
  "Mend the gate seal",
  "Paint the mooring bollards",
  "Inspect the culvert",
  'Renew the "no mooring" boards',
] as const;

const PRIORITIES = ["low", "medium", "medium", "high"] as const;
const DAYS_TO_DUE = { low: 90, medium: 30, high: 7 };

/**
 * The work orders as they stand on a day (days since 1970-01-01), the earliest first.
 *
 * An order depends on the seed and its own day, so that the past stays as it was; only what
 * was still open changes as the days go by.
 */
export function workOrders(seed: number, today: number): readonly WorkOrder[] {
  const days: WorkOrder[][] = [];
  let count = 0;
  for (let day = today + DAYS_AHEAD; count < ORDERS; day--) {
    const dice = diceFor(seed, day);
    // Ahead there is only planned maintenance, one day in three.
    const ofDay = day > today ? dice.pick([0, 0, 1]) : dice.pick([0, 1, 1, 2, 2, 3]);
    const orders = Array.from({ length: ofDay }, (_, index) => workOrder(seed, day, index, today));
    days.push(orders);
    count += orders.length;
  }
  return days.reverse().flat().slice(-ORDERS);
}

/** The work orders as a CSV file with one heading row. */
export function worksCsv(seed: number, today: number): string {
  return tableText([...workOrders(seed, today)]);
}

function workOrder(seed: number, day: number, index: number, today: number): WorkOrder {
  const dice = diceFor(seed, day, index);
  const isPlanned = day > today;
  const priority = isPlanned ? "low" : dice.pick(PRIORITIES);
  const due = day + DAYS_TO_DUE[priority] + dice.below(5);
  const finishDay = day + 1 + dice.below(priority === "high" ? 14 : 75);
  const isCancelled = dice.below(25) === 0;
  const isFinished = !isCancelled && finishDay <= today;
  return {
    order: `W-${written(day, "yyMMdd")}-${index + 1}`,
    reported_on: reportedText(dice, day, isPlanned),
    due_on: dice.below(12) === 0 ? blankText(dice) : written(due, "dd/MM/yyyy"),
    finished_on: isFinished ? written(finishDay, "dd/MM/yyyy") : blankText(dice),
    place: dice.pick(PLACES),
    task: dice.pick(TASKS),
    priority,
    status: isCancelled ? "cancelled" : isFinished ? "finished" : isPlanned ? "planned" : "in hand",
    cost: String(1_500 + dice.below(400) * 125 * (priority === "high" ? 3 : 1)),
  };
}

/** Nearly always the day; sometimes nothing, and once in a long while a day that never was. */
function reportedText(dice: Dice, day: number, isPlanned: boolean): string {
  const chance = isPlanned ? 1 : dice.next();
  if (chance < 0.022) return blankText(dice);
  if (chance < 0.025) return `${dice.pick(["31/02", "30/02", "31/11", "31/06"])}/${yearOf(day)}`;
  return written(day, "dd/MM/yyyy");
}

/** The three ways in which the trust's clerks write "no date". */
function blankText(dice: Dice): string {
  return dice.pick(["", "N/A", "tbc"]);
}
