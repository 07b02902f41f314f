import type { ImportReport } from "@orisma/contract";
import { withLocation, renderFault } from "@orisma/core/internal";
import { type ColumnTally } from "./cell-writer.js";

/** The tallies of columns, as they are returned. */
export function columnReports(tallies: ReadonlyMap<string, ColumnTally>): ImportReport["columns"] {
  const columns = [...tallies].map(([name, tally]) => {
    const examples = tally.examples.map(({ row, value, fault: found }) => ({
      ...(row.id === undefined ? { line: row.line } : { record: row.id }),
      ...renderFault(withLocation(found, { value })),
    }));
    const { dated: read, blank, unreadable } = tally;
    return [name, { read, blank, unreadable, examples }] as const;
  });
  return Object.fromEntries(columns);
}
