export { cellReader, faultOf, foldedOf } from "./cells.js";
export {
  columnEntity,
  coreColumn,
  declaredColumns,
  hasLastDays,
  importedTableOf,
  type KnownSource,
} from "./columns.js";
export {
  dictionaryBuilders,
  dictionaryValues,
  usefulDictionaries,
  type DictionaryBuilders,
  type DictionaryBuilder,
} from "./dictionaries.js";
export { type BrokenListing } from "./dependants.js";
export {
  ColumnReading,
  Dictionary,
  FileImport,
  RefusedRow,
  Source,
  SourceColumn,
  type StoredColumnDeclaration,
  type SourceState,
  type Watch,
} from "./entities.js";
export { asRead, writtenOf } from "./columns.js";
export { refusable } from "./writable.js";
export { Indexing, type IndexProposal } from "./indexing.js";
export type { ListingColumns } from "./indexes.js";
export {
  attachedRecords,
  storedRecords,
  writtenCell,
  type StoredRecord,
  type WrittenCell,
} from "./stored.js";
export { SourceLocks } from "./locks.js";
export type { PartitionTable } from "./partitions.js";
export { sourceRoutes } from "./routes.js";
export { Sources, columnFaults } from "./service.js";
export {
  LONGEST_KEY,
  LONGEST_TEXT_BYTES,
  copyAll,
  countMerge,
  createTable,
  dropCodes,
  insertColumns,
  isRecordsTable,
  lastNumber,
  overwrittenEdits,
  mergeByKey,
  storedTable,
  tableName,
  updateCells,
} from "./tables.js";
export { countChange, noteChanged, noteReplaced } from "./changes.js";
