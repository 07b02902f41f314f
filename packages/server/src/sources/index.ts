export { ColumnReading, Load, RefusedRow, Source, SourceColumn } from "./entities.js";
export { fileRoutes, sourceRoutes, type SourceParts } from "./routes.js";
export type { KnownSource, SourceDescription } from "./columns.js";
export { Loads, type LoadDescription, type LoadProgress } from "./loads.js";
export type { LoadReport } from "./report.js";
export { Sources } from "./service.js";
export { Watching } from "./watching.js";
