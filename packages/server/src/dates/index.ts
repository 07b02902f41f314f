export { dateRoutes } from "./routes.js";
export { READING, readingOf, type ReadingSent } from "./schema.js";
