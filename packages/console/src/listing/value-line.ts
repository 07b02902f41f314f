/** Values in one line, with commas between; one with a comma, a quote or space around it is quoted. */
export function valueLine(values: readonly string[]): string {
  const quoted = (value: string) =>
    value === "" || value !== value.trim() || /[",]/.test(value)
      ? `"${value.replaceAll('"', '""')}"`
      : value;
  return values.map(quoted).join(", ");
}

/** The values of such a line; nothing between two commas is no value. */
export function valuesIn(text: string): readonly string[] {
  const values: string[] = [];
  for (const [whole, quoted] of text.matchAll(/\s*"((?:[^"]|"")*)"\s*(?=,|$)|[^,]+/g)) {
    const value = quoted === undefined ? whole.trim() : quoted.replaceAll('""', '"');
    if (quoted !== undefined || value !== "") values.push(value);
  }
  return values;
}
