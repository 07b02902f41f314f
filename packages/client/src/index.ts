export { OrismaClient, type ClientOptions, type QueryParameters } from "./client.js";
export { OrismaError } from "./error.js";
export type * from "./shapes.js";
