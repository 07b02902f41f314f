/** What a window covers, without the zone at the end, for places where that is reported once. */
export function withoutZone(sentence: string): string {
  return sentence.replace(/, [^,]*$/, "");
}

/** A moment as its reader writes it: the day in full, and the time to the minute. */
export function whenText(instant: string): string {
  return new Date(instant).toLocaleString(undefined, { dateStyle: "long", timeStyle: "short" });
}

/** A sentence's first character in capitals. */
export function capitalised(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/** A message with what was probably meant behind it. */
export function withNearest(message: string, nearest: readonly string[] = []): string {
  return nearest.length === 0 ? message : `${message}: ${nearest.join(" or ")}?`;
}

/** A day, a month or a year (`2026-12-25`, `2026-12`, `2026`) as its reader writes it. */
export function dayText(text: string): string {
  const [year = "", month, day] = text.split("-");
  if (month === undefined) return year;
  const precision = day === undefined ? MONTH : DAY;
  return new Date(`${year}-${month}-${day ?? "01"}T00:00:00Z`).toLocaleDateString(
    undefined,
    precision,
  );
}

const MONTH = { month: "short", year: "numeric", timeZone: "UTC" } as const;
const DAY = { dateStyle: "long", timeZone: "UTC" } as const;
