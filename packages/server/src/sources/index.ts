export { ColumnReading, Source, SourceColumn } from "./entities.js";
export { sourceRoutes } from "./routes.js";
export { Sources, type KnownSource, type LoadReport, type SourceDescription } from "./service.js";
