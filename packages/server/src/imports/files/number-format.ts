/** Built-in formats that show a date, by number (ISO/IEC 29500-1, 18.8.30). */
const DATE_FORMATS = new Set([
  14, 15, 16, 17, 22, 27, 28, 29, 30, 31, 34, 35, 36, 50, 51, 52, 53, 54, 57, 58,
]);
/** The one of them that shows the time of day too. */
const DATE_AND_TIME = 22;
const FIRST_CUSTOM = 164;

/** What a number format shows of a date: its day, or its time of day too. */
export type DateFormat = "day" | "time";

/**
 * What a number format shows numbers as, if as dates: it has a year or a day, outside of quotes,
 * colours and conditions. A format of hours and minutes alone shows times or lengths of time: null.
 *
 * @example dateFormatOf(164, "dd/mm/yyyy;@") // "day"
 * @example dateFormatOf(164, "dd/mm/yyyy hh:mm") // "time"
 * @example dateFormatOf(165, '[Red]0.00" days"') // null
 */
export function dateFormatOf(id: number, code: string | undefined): DateFormat | null {
  if (code === undefined) {
    if (id >= FIRST_CUSTOM || !DATE_FORMATS.has(id)) return null;
    return id === DATE_AND_TIME ? "time" : "day";
  }
  const [positive = ""] = code.replace(/"[^"]*"|\\.|_.|\*./g, "").split(";");
  const letters = positive.replace(/\[[^\]]*\]/g, "").toLowerCase();
  if (/^general|@/.test(letters)) return null;
  if (!/[yde]|m{3,}/.test(letters.replace(/[0#?.]+e[+-]0+/g, ""))) return null;
  return /[hs]/.test(letters) ? "time" : "day";
}
