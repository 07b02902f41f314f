import type { LoadReport } from "@orisma/client";
import { drawTable } from "./table.js";

/** What was made of a file, for people. */
export function reportText(report: LoadReport): string {
  const { source, records, added, changed, refused, columns, file, unchanged } = report;
  if (unchanged === true) {
    return `${source}: ${records} records; nothing was done, since this file was taken last\n`;
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
  const load = report.load === null ? "" : ` ${report.load}`;
  return (
    `${source}: ${records} records${news}\n` +
    (file?.remarks ?? []).map((remark) => `  ${remark}\n`).join("") +
    (refused === 0
      ? ""
      : `  ${refused} ${refused === 1 ? "row was" : "rows were"} refused; orisma loads ${source} --refused${load} shows them\n`) +
    (rows.length === 0 ? "" : `\n${table}`) +
    (unreadables.length === 0 ? "" : `\nUnreadable, kept as they came:\n${unreadables.join("")}`)
  );
}
