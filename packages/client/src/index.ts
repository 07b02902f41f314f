export {
  OrismaClient,
  type AroundRequest,
  type FileOptions,
  type NewLadder,
  type ImportOptions,
  type TranslateFilter,
  type MomentQuery,
} from "./client.js";
export type { CallInput, ClientCall, ClientOptions, FileBody } from "./transport.js";
export { OrismaError } from "./error.js";
export type {
  ColumnDeclaration,
  ColumnPreview,
  FileInspection,
  AuditDetails,
  Finding,
  KeyDescription,
  CopiedListing,
  CreatedFeed,
  FeedDescription,
  ListingDescription,
  ListingDetails,
  ImportDescription,
  ImportMode,
  ImportProgress,
  ImportReport,
  NewColumn,
  NewListing,
  NewSource,
  ProblemDocument,
  Role,
  ReadingsPreview,
  SourceColumn,
  MadeIndex,
  SourceDescription,
  SourceIndexes,
} from "@orisma/contract";
export type * from "./typed.js";
export {
  TooManyRecords,
  compareWithExpected,
  type Expectation,
  type Expected,
} from "./expected.js";
