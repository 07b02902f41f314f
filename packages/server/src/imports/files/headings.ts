import type { FileCell } from "./table.js";

/** Records that headings are compared with. */
const MAX_COMPARED = 100;

/**
 * Why a row that was taken as headings for being `as` may be a record, in words, or null: it looks
 * like what stands below it in its column, or stands there too.
 */
export function headingDoubt(
  headings: readonly string[],
  rows: readonly (readonly FileCell[])[],
  line: number,
  as: string,
): string | null {
  const compared = rows.slice(0, MAX_COMPARED);
  for (const [index, heading] of headings.entries()) {
    const below = compared.map((cells) => cells[index]?.trim() ?? "").filter((cell) => cell !== "");
    const [other] = below;
    if (other === undefined || heading === "") continue;
    const alike = below.filter((cell) => shapeOf(cell) === shapeOf(heading)).length;
    const isFigure = /\d/.test(heading) && alike * 2 >= below.length;
    const isThere = below.includes(heading);
    if (!isFigure && !isThere) continue;
    const why = isThere
      ? `“${heading}” stands below it too`
      : `“${heading}” stands over “${other}”`;
    return (
      `line ${line} was taken as the headings, since it is ${as}, and may be a record: ${why}; ` +
      "headings=0 (--headings 0) says that there are none"
    );
  }
  return null;
}

/** A text with every number in it alike. */
function shapeOf(text: string): string {
  return text.trim().replaceAll(/\d+/g, "9");
}
