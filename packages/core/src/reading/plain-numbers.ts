const WHOLE = /^[+-]?\d{1,18}$/;
const DECIMAL = /^[+-]?\d{1,26}(?:\.\d{1,12})?$/;

/** Whether a text is a number that a column of its type can hold, without white space around it. */
export function isPlainNumber(text: string, type: "integer" | "decimal"): boolean {
  return (type === "integer" ? WHOLE : DECIMAL).test(text);
}
