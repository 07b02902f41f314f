import { readBoolean } from "./booleans.js";
import type { ValueCount } from "./column-values.js";
import {
  compileBooleanForm,
  compileNumberForm,
  type BooleanForm,
  type NumberForm,
} from "./number-form.js";
import { isPlainNumber } from "./plain-numbers.js";

/** What the values of a column are as numbers, and as yes and no; counts are of cells. */
export interface NumberCounts {
  readonly blank: number;
  readonly whole: number;
  readonly fractional: number;
  /** Neither blank nor a number. */
  readonly other: number;
  /** Yes or no in some spelling; `1` and `0` are numbers too. */
  readonly yesOrNo: number;
}

/** Counts the cells of a column that hold numbers, and those that are yes or no; plainly, or in the form that it has. */
export function countNumbers(
  values: readonly ValueCount[],
  form: NumberForm | BooleanForm | null = null,
): NumberCounts {
  const counts = { blank: 0, whole: 0, fractional: 0, other: 0, yesOrNo: 0 };
  const plainly = plainReader(form);
  for (const { value, count } of values) {
    const text = plainly(String(value ?? "").trim());
    if (text === "") counts.blank += count;
    else if (isPlainNumber(text, "integer")) counts.whole += count;
    else if (isPlainNumber(text, "decimal")) counts.fractional += count;
    else counts.other += count;
    if (readBoolean(text) !== null) counts.yesOrNo += count;
  }
  return counts;
}

/** Gives what a text in a form is plainly; a text of another form as it is. */
function plainReader(form: NumberForm | BooleanForm | null): (text: string) => string {
  if (form === null) return (text) => text;
  if ("true" in form) {
    const read = compileBooleanForm(form);
    return (text) => {
      const value = read.ok ? read.value(text) : null;
      return value === null ? text : value ? "yes" : "no";
    };
  }
  const read = compileNumberForm(form);
  // What is plain and not of the form is no number in it.
  return (text) => (read.ok && text !== "" ? (read.value(text) ?? "?") : text);
}
