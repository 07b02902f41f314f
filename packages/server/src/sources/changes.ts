import type { ImportedTable } from "@orisma/core/internal";
import { changedRecords } from "./tables.js";

/** A statement with values in place of its question marks. */
interface Written {
  readonly text: string;
  readonly values: readonly (string | number)[];
}

/**
 * Counts a change of a source's records. Whoever counts the next waits until this transaction has ended, so
 * that a number which can be seen has none before it that cannot.
 */
export function countChange(source: number): Written {
  return { text: "UPDATE sources SET imports = imports + 1 WHERE id = ?", values: [source] };
}

/**
 * Notes the number of the last change with records of a source whose changes are noted: those of some
 * ids, one at least.
 */
export function noteChanged(source: number, ids: readonly string[]): Written {
  const one = "SELECT ? AS recordId";
  return noted(source, ids.map(() => one).join(" UNION ALL "), ids);
}

/** The same with the records of a table that another, in whose place it comes, does not have so. */
export function noteReplaced(
  source: number,
  from: ImportedTable | null,
  to: ImportedTable,
  hasSameIds: boolean,
): Written {
  return noted(source, changedRecords(hasSameIds ? from : null, to), []);
}

function noted(source: number, ids: string, values: readonly string[]): Written {
  return {
    text:
      "INSERT INTO changed_records (sourceId, recordId, number) " +
      `SELECT sources.id, changed.recordId, sources.imports FROM sources JOIN (${ids}) AS changed ` +
      "WHERE sources.id = ? AND sources.changesMark IS NOT NULL " +
      "ON DUPLICATE KEY UPDATE number = VALUES(number)",
    values: [...values, source],
  };
}
