import type { ImportReport } from "@orisma/client";
import { drawTable } from "./table.js";

/**
 * That no date of a column could be read, although it has cells that are not blank: the records are
 * in, but nobody finds them by it. Null where there is no such column.
 */
export function noDatesText(
  { source, columns }: ImportReport,
  dates: ReadonlySet<string>,
): string | null {
  const names = Object.entries(columns)
    .filter(([name, { read, unreadable }]) => dates.has(name) && read === 0 && unreadable > 0)
    .map(([name]) => name);
  const [first] = names;
  if (first === undefined) return null;
  return (
    `the records are in, but no cell of ${names.join(", ")} could be read as a date; ` +
    `orisma sources profile ${source} shows how they are written, and ` +
    `orisma sources reading ${source} --date ${first}=PATTERN reads them again`
  );
}

/** Characters of the headings that are shown. */
const MAX_CHARACTERS = 100;

/** What was taken as the headings. */
function headingsText({ headingLine, headingRows, headings }: NonNullable<ImportReport["file"]>) {
  if (headingLine === 0) return "";
  const all = headings.join(", ");
  const returned = all.length > MAX_CHARACTERS ? `${all.slice(0, MAX_CHARACTERS)}…` : all;
  const lines =
    headingRows > 1
      ? `lines ${headingLine - headingRows + 1} to ${headingLine}`
      : `line ${headingLine}`;
  return `  headings, ${lines}: ${returned}\n`;
}

/** What was made of a file, for people. */
export function reportText(report: ImportReport): string {
  const { source, records, added, changed, refused, columns, file, unchanged } = report;
  if (unchanged === true) {
    return `${source}: ${countOf(records)}; nothing was done, since this file was imported last\n`;
  }
  const rows = Object.entries(columns).map(([name, { read, blank, unreadable }]) => [
    name,
    String(read),
    String(blank),
    String(unreadable),
  ]);
  const unreadables = Object.entries(columns).flatMap(([name, column]) =>
    column.examples.map(({ line, record, message }) => {
      const place = line === undefined ? `record ${record ?? ""}` : `line ${line}`;
      return `  ${place}, ${name}: ${message}\n`;
    }),
  );
  const omitted = Object.entries(report.omitted ?? {}).flatMap(([, faults]) =>
    faults.map(({ message }) => `  not set: ${message}\n`),
  );
  const right = true;
  const table = drawTable(
    [
      { heading: "column" },
      { heading: "read", right },
      { heading: "blank", right },
      { heading: "unreadable", right },
    ],
    rows,
  );
  const news =
    added === records || added + changed === 0 ? "" : `, ${added} new, ${changed} changed`;
  const load = report.importNumber === null ? "" : ` ${report.importNumber}`;
  const notices = Object.entries(columns).flatMap(([name, { notice }]) =>
    notice === undefined ? [] : [`  ${name}: ${notice}\n`],
  );
  return (
    `${source}: ${countOf(records)}${news}\n` +
    (file == null ? "" : headingsText(file)) +
    (file?.remarks ?? []).map((remark) => `  ${remark}\n`).join("") +
    (refused === 0
      ? ""
      : `  ${refused} ${refused === 1 ? "row was" : "rows were"} refused; orisma sources imports ${source} --refused${load} shows them\n`) +
    editsText(report.edits) +
    (rows.length === 0 ? "" : `\n${table}`) +
    ([...notices, ...omitted].length === 0 ? "" : `\n${[...notices, ...omitted].join("")}`) +
    (unreadables.length === 0 ? "" : `\nUnreadable, kept as they came:\n${unreadables.join("")}`)
  );
}

/** What became of edits that the file says otherwise. */
function editsText(edits: ImportReport["edits"]): string {
  if (edits === undefined) return "";
  const { preserved, overwritten, lost } = edits;
  const cells = (count: number) => `${count} edited ${count === 1 ? "cell" : "cells"}`;
  return [
    preserved > 0 ? `  ${cells(preserved)} made again\n` : "",
    overwritten > 0 ? `  ${cells(overwritten)} overwritten by the file\n` : "",
    lost > 0 ? `  ${cells(lost)} lost: the file does not have their records\n` : "",
  ].join("");
}

/** `1 record`, `2 records`. */
export function countOf(records: number): string {
  return `${records} ${records === 1 ? "record" : "records"}`;
}
