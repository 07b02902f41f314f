/** What a window covers, without the zone at the end, for places where that is reported once. */
export function withoutZone(sentence: string): string {
  return sentence.replace(/, [^,]*$/, "");
}

/** A moment as its reader writes it: the day in full, and the time to the minute. */
export function whenText(instant: string): string {
  return new Date(instant).toLocaleString(undefined, { dateStyle: "long", timeStyle: "short" });
}

/** A sentence's first sign in capitals. */
export function capitalised(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}
