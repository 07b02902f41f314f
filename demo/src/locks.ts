import { tableText } from "./table-text.js";
import { dayOf, written } from "./days.js";
import { LOCKS } from "./places.js";
import { diceFor } from "./random.js";

/** One lock, as the trust's register has it. */
export interface Lock {
  readonly lock: string;
  readonly name: string;
  /** Written out: `12 May 1793`. */
  readonly opened: string;
  /** With two digits of the year: `03.09.61`; empty where it never was. */
  readonly rebuilt: string;
  /** In metres, with a decimal comma. */
  readonly fall: string;
}

/** The register of locks. */
export function locks(seed: number): readonly Lock[] {
  return LOCKS.map(({ number, name }, index) => {
    const dice = diceFor(seed, LOCKS_PLACE, index);
    const opened = dayOf(1793, 5, 12) + index * 97 + dice.below(60);
    const rebuilt = dayOf(1931 + dice.below(75), 1 + dice.below(12), 1 + dice.below(28));
    return {
      lock: number,
      name,
      opened: written(opened, "d MMMM yyyy"),
      rebuilt: dice.below(3) === 0 ? "" : written(rebuilt, "dd.MM.yy"),
      fall: `${1 + dice.below(3)},${10 + dice.below(90)}`,
    };
  });
}

/** Separates the dice of the register from those of any day. */
const LOCKS_PLACE = -1;

/** The register as its program writes it: semicolons, Windows-1252, decimal commas. */
export function locksCsv(seed: number): Buffer {
  const text = tableText([...locks(seed)], { delimiter: ";", newline: "\r\n" });
  return Buffer.from(text, "latin1");
}
