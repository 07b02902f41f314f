import type { EditPolicy, ImportReport } from "@orisma/contract";
import type { ImportedTable } from "@orisma/core/internal";
import type { DictionaryBuilders, Source, StoredColumnDeclaration } from "../sources/index.js";

/** A table of a source that another is to take the place of. */
export interface ReplacedTable {
  readonly source: Source;
  /** What the ids of its records are. */
  readonly ids: string;
  readonly from: ImportedTable;
  readonly to: ImportedTable;
  /** The columns of the other one, and the dictionaries that are made for it. */
  readonly columns: ReadonlyMap<string, StoredColumnDeclaration>;
  readonly dictionaries: DictionaryBuilders;
  /** Whether an id is that of the same record in both. */
  readonly hasSameIds: boolean;
}

/** What became of edits: cells that were made again, that have the file's values, whose records are gone. */
export type KeptEdits = NonNullable<ImportReport["edits"]>;

/** Keeps edits when a table is replaced; registered by what knows them. */
export interface EditKeeper {
  /** Returns null where none would be overwritten; throws a problem where the policy is to report them. */
  keep(replaced: ReplacedTable, policy: EditPolicy): Promise<KeptEdits | null>;
}
