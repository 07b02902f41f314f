export { dateRoutes } from "./routes.js";
export { READ_REQUEST, READING, readingOf, type ReadingSent } from "./schema.js";
