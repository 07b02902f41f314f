export { OrismaClient, type ClientOptions, type FileBody, type QueryParameters } from "./client.js";
export { OrismaError } from "./error.js";
export type * from "./shapes.js";
