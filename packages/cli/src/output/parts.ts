import type { SourceDescription } from "@orisma/client";

/** Of a source of several tables or sources: what it is made of, and what is omitted of it. */
export function partsText(source: SourceDescription): string {
  const { name, attached, tables, combine, unnest } = source;
  if (unnest !== null) {
    const paths = Object.entries(unnest.values).map(([value, { path }]) => `  ${value}: ${path}\n`);
    return `${name} is the values at ${unnest.each} in ${unnest.column} of ${unnest.source}:\n${paths.join("")}`;
  }
  if (combine !== null) {
    const of = combine.of.join(" and ");
    const differences = combine.differences.map((each) => `  ${each}\n`);
    if (differences.length === 0) return `${name} is ${of}\n`;
    return `${name} is ${of}, without what is not alike:\n${differences.join("")}`;
  }
  if (tables === undefined) return "";
  const { count, first, last, omitted } = tables;
  const column = attached?.dateColumn ?? "";
  const read =
    count === 0
      ? "No table is read at this moment"
      : `${count} tables are read, ${first} to ${last}`;
  const omittedLines = omitted.map(({ table, reason }) => `  ${table}: ${reason}\n`);
  return `${read}; ${column} is the day in a table's name.\n${omittedLines.length === 0 ? "" : `Left out:\n${omittedLines.join("")}`}`;
}
