/** How lines of values are written. */
export interface CsvForm {
  readonly delimiter?: string;
  readonly newline?: string;
}

/**
 * Lines of values as CSV, each ended by a newline. A value that contains a delimiter, a quote or a line
 * break stands in quotes.
 *
 * @see RFC 4180
 */
export function csvText(
  rows: Iterable<readonly string[]>,
  { delimiter = ",", newline = "\n" }: CsvForm = {},
): string {
  const field = (text: string) =>
    /["\r\n]/.test(text) || text.includes(delimiter) ? `"${text.replaceAll('"', '""')}"` : text;
  let text = "";
  for (const row of rows) text += row.map(field).join(delimiter) + newline;
  return text;
}
