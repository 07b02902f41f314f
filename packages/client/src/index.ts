export { OrismaClient, type AskedAround, type ClientOptions, type FileBody } from "./client.js";
export { OrismaError } from "./error.js";
export type * from "./shapes.js";
export type * from "./typed.js";
export {
  TooManyRecords,
  compareWithExpected,
  type Expectation,
  type Expected,
} from "./expected.js";
