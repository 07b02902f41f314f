// What the service and its client use of the contract.
export { CALLER_NAME, type KeyDescription, type PersonDescription } from "./access.js";
export type {
  CallName,
  FileContent,
  Call,
  PathParameters,
  SentBody,
  ReadBody,
  ReadQuery,
  SentQuery,
  Answer,
} from "./call.js";
export { type Calls, CALLS } from "./calls.js";
export type { AttachedDatabase, AttachedTable, AttachedTableDetails } from "./databases.js";
export {
  LISTING,
  SENT_LISTING,
  type ListingSent,
  type NewListing,
  declarationSchema,
} from "./declaration.js";
export {
  DELIVERY_TIMES,
  type DeliveryDescription,
  type DeliveryRun,
  type DeliveryTime,
} from "./deliveries.js";
export {
  MAX_CHANGED,
  type ActionReport,
  type ChangeRights,
  type EditDescription,
  type EditedRecord,
} from "./edits.js";
export { PROBLEM_DOCUMENT, type ProblemDocument } from "./faults.js";
export {
  TEXT_ENCODINGS,
  type TextEncoding,
  type FileFormat,
  FILE,
  type FileOptions,
  type FileDescription,
  type FileInspection,
} from "./files.js";
export type { Holiday, HolidayListDescription } from "./holidays.js";
export type {
  CopiedListing,
  ListingVersion,
  ListingDescription,
  ListingDetails,
} from "./listings.js";
export type { OverrideDescription } from "./overrides.js";
export { PROBLEMS, type ProblemName } from "./problems.js";
export type { ColumnPreview, ReadingsPreview } from "./profile.js";
export { EXPORT_MEDIA } from "./records.js";
export { ROLES, type Role } from "./roles.js";
export type { Shown } from "./schema.js";
export {
  type ImportMode,
  type NewSource,
  type ReadNewSource,
  type ColumnDeclaration,
  type NewColumn,
  type Columns,
  IMPORT_OPTIONS,
  EDIT_POLICIES,
  type ColumnUse,
  type EditPolicy,
  REPAIR,
  type ImportDescription,
  type ImportProgress,
  type DateCells,
  type ImportReport,
  type InspectedCell,
  type RecordInspection,
  type RepairedCell,
  type WatchLook,
  type WatchState,
  type WatchedFile,
  type SourceColumn,
  type MadeIndex,
  type SourceDescription,
  type SourceIndexes,
} from "./sources.js";
export { type LadderDescription, LADDER } from "./windows.js";
export { FINDING, type Finding } from "./upkeep.js";
export { AUDIT_DETAILS, AUDIT_ENTRY, type AuditDetails, type AuditEntry } from "./audit.js";
export type { CreatedFeed, FeedDescription } from "./feeds.js";
export { VIEW_NAME, type View } from "./views.js";
