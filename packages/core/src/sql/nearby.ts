import { END_MS, FIRST_MS, MS_PER_DAY, civilDay, dayOf, wallMs } from "../calendar/index.js";
import type { PlacedPart, TextLayout } from "../reading/index.js";
import { sql, valueOf, type Fragment } from "./fragment.js";

/** What cannot be at or after a moment, or before it, is left out by an index; null where none can. */
export interface Nearby {
  from(ms: number): Fragment | null;
  before(ms: number): Fragment | null;
}

/** Where an index leaves out nothing. */
export const NOWHERE: Nearby = { from: () => null, before: () => null };

/** What lies near a moment, by the beginning of a text, where every one begins with its day. */
export function nearbyOf(layouts: readonly TextLayout[], column: Fragment): Nearby {
  const begin = layouts.every((layout) => beginsWithDay(layout));
  const bound = (ms: number, days: number, compared: (text: Fragment) => Fragment) => {
    if (!begin || ms - 2 * MS_PER_DAY <= FIRST_MS || ms + 2 * MS_PER_DAY >= END_MS) return null;
    const { year, month, day } = civilDay(dayOf(wallMs(ms)) + days);
    const text = `${String(year).padStart(4, "0")}-${twoDigits(month)}-${twoDigits(day)}`;
    return compared(valueOf(text));
  };
  return {
    from: (ms: number) => bound(ms, -1, (text) => sql`${column} >= ${text}`),
    before: (ms: number) => bound(ms, 2, (text) => sql`${column} < ${text}`),
  };
}

/** The same of strings that begin with a column of years. */
export function nearbyYears(layouts: readonly TextLayout[], column: Fragment): Nearby {
  const begin = layouts.every(({ parts }) => parts.get("year")?.at === 0);
  const bound = (ms: number, days: number, compared: (year: Fragment) => Fragment) => {
    const near = ms + days * MS_PER_DAY;
    if (!begin || near <= FIRST_MS || near >= END_MS) return null;
    return compared(valueOf(civilDay(dayOf(wallMs(near))).year));
  };
  return {
    from: (ms) => bound(ms, -1, (year) => sql`${column} >= ${year}`),
    before: (ms) => bound(ms, 1, (year) => sql`${column} <= ${year}`),
  };
}

/** The same of whole numbers of one form that are in the order of their dates, such as `202502`. */
export function nearbyNumbers(layouts: readonly TextLayout[], column: Fragment): Nearby {
  const [layout, another] = layouts;
  const fields = ["year", "month", "day"] as const;
  const places = fields.map((field) => layout?.parts.get(field)?.at ?? Infinity);
  const isInOrder =
    another === undefined &&
    layout?.parts.size === places.filter((at) => at < Infinity).length &&
    places.every((at, index) => at === (index === 0 ? 0 : index * 2 + 2) || at === Infinity);
  const bound = (ms: number, compared: (number: Fragment) => Fragment) => {
    if (!isInOrder || ms < FIRST_MS || ms >= END_MS) return null;
    const { year, month, day } = civilDay(dayOf(wallMs(ms)));
    const digits = String(year) + twoDigits(month) + twoDigits(day);
    const width = String(year).length - 4 + layout.characters.length;
    return compared(valueOf(Number(digits.slice(0, width))));
  };
  return {
    from: (ms) => bound(ms, (number) => sql`${column} >= ${number}`),
    before: (ms) => bound(ms, (number) => sql`${column} <= ${number}`),
  };
}

function twoDigits(number: number): string {
  return String(number).padStart(2, "0");
}

const BEGINNINGS: ReadonlyMap<number, PlacedPart["field"]> = new Map([
  [0, "year"],
  [5, "month"],
  [8, "day"],
]);

/** Whether a text of a form begins with `yyyy-MM-dd`, or is the beginning of one. */
function beginsWithDay({ characters, parts }: TextLayout): boolean {
  const inPlace = [...BEGINNINGS].every(([at, field]) => {
    const part = parts.get(field);
    if (part === undefined) return characters.length <= at;
    return part.at === at && part.width === (at === 0 ? 4 : 2);
  });
  return inPlace && [4, 7].every((at) => characters[at] === undefined || characters[at] === "-");
}
