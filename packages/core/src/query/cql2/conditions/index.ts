import type { Condition } from "../../../filters/index.js";
import type { COMPARED_FUNCTIONS } from "../expression.js";
import { booleanWritten } from "./boolean.js";
import { columnsWritten } from "./columns.js";
import type { ComparedFunction, Written } from "./common.js";
import { DATE_PART, YEAR } from "./date-part.js";
import { dateWritten } from "./date.js";
import { DAYS_BETWEEN, daysWritten } from "./days.js";
import { numberWritten } from "./number.js";
import { oneOfWritten } from "./one-of.js";
import { overlapWritten } from "./overlap.js";
import { stateWritten } from "./state.js";
import { textWritten } from "./text.js";

/** How each kind of condition is written. */
const WRITTEN: {
  readonly [Kind in Condition["kind"]]: Written<Extract<Condition, { readonly kind: Kind }>>;
} = {
  date: dateWritten,
  // What it means for dates without a day stands in the reading of the column.
  partial: ({ dates }, columns) => dateWritten(dates, columns),
  number: numberWritten,
  text: textWritten,
  oneOf: oneOfWritten,
  boolean: booleanWritten,
  overlap: overlapWritten,
  days: daysWritten,
  columns: columnsWritten,
  state: stateWritten,
};

export function writtenOf(condition: Condition): Written<Condition> {
  return WRITTEN[condition.kind] as Written<Condition>;
}

const COMPARED: Readonly<Record<(typeof COMPARED_FUNCTIONS)[number], ComparedFunction>> = {
  year: YEAR,
  month: DATE_PART,
  day: DATE_PART,
  weekday: DATE_PART,
  hour: DATE_PART,
  daysBetween: DAYS_BETWEEN,
};

/** The function of an operator that is compared with values; null for any other. */
export function comparedFunction(op: string): ComparedFunction | null {
  return Object.hasOwn(COMPARED, op) ? COMPARED[op as keyof typeof COMPARED] : null;
}
