export { ColumnReading, Source, SourceColumn } from "./entities.js";
export { sourceRoutes } from "./routes.js";
export type { KnownSource, SourceDescription } from "./columns.js";
export { Sources, type LoadReport } from "./service.js";
