import { MS_PER_DAY, isoWall } from "../calendar/index.js";
import { fault, type Fault } from "../faults/index.js";
import { dateColumnFault, type Catalogue } from "./columns.js";
import type { Filter } from "./filter.js";

/**
 * Every fault of a tree against the columns that are known, in the order of the tree.
 *
 * Codes: `column.unknown`, `column.notDate`, `column.finerThanDay` (a column of days compared
 * with an edge inside a day, which could only be rounded by a guess).
 */
export function checkFilter(filter: Filter, catalogue: Catalogue): readonly Fault[] {
  switch (filter.kind) {
    case "all":
    case "any":
      return filter.of.flatMap((part) => checkFilter(part, catalogue));
    case "not":
      return checkFilter(filter.of, catalogue);
    case "state": {
      const found = dateColumnFault(filter.column, catalogue);
      return found === null ? [] : [found];
    }
    case "date": {
      const found = dateColumnFault(filter.column, catalogue);
      if (found !== null) return [found];
      const column = catalogue.get(filter.column);
      if (column?.type !== "date" || column.kind !== "date") return [];
      return filter.intervals
        .flatMap(({ start, end }) => [start, end])
        .flatMap((edge) =>
          edge === null || edge.wall % MS_PER_DAY === 0
            ? []
            : [fault("column.finerThanDay", { name: column.name, text: isoWall(edge.wall) })],
        );
    }
  }
}
