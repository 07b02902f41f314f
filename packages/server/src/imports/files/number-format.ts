/** Built-in formats that show a date, by number (ISO/IEC 29500-1, 18.8.30). */
const DATE_FORMATS = new Set([
  14, 15, 16, 17, 22, 27, 28, 29, 30, 31, 34, 35, 36, 50, 51, 52, 53, 54, 57, 58,
]);
const FIRST_CUSTOM = 164;

/**
 * Whether a number format shows numbers as dates: it has a year or a day, outside of quotes,
 * colours and conditions. A format of hours and minutes alone shows times or lengths of time.
 *
 * @example isDateFormat(164, "dd/mm/yyyy;@") // true
 * @example isDateFormat(165, '[Red]0.00" days"') // false
 */
export function isDateFormat(id: number, code: string | undefined): boolean {
  if (code === undefined) return id < FIRST_CUSTOM && DATE_FORMATS.has(id);
  const [positive = ""] = code.replace(/"[^"]*"|\\.|_.|\*./g, "").split(";");
  const letters = positive.replace(/\[[^\]]*\]/g, "").toLowerCase();
  if (/^general|@/.test(letters)) return false;
  return /[yde]|m{3,}/.test(letters.replace(/[0#?.]+e[+-]0+/g, ""));
}
