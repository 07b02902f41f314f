export {
  OrismaClient,
  type AskedAround,
  type FileOptions,
  type NewLadder,
  type TakeOptions,
  type TranslateFilter,
  type WhenAsked,
} from "./client.js";
export type { CallInput, ClientCall, ClientOptions, FileBody } from "./transport.js";
export { OrismaError } from "./error.js";
export type {
  ColumnDeclaration,
  ColumnPreview,
  FileLook,
  KeyDescription,
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
  SettlingPreview,
  SourceColumn,
  SourceDescription,
} from "@orisma/contract";
export type * from "./typed.js";
export {
  TooManyRecords,
  compareWithExpected,
  type Expectation,
  type Expected,
} from "./expected.js";
