export { ColumnReading, Load, RefusedRow, Source, SourceColumn } from "./entities.js";
export { fileRoutes, sourceRoutes, type SourceParts } from "./routes.js";
export type { KnownSource, SourceDescription } from "./columns.js";
export { Loads, type LoadProgress } from "./loads.js";
export type { LoadDescription } from "./history.js";
export type { LoadReport } from "./report.js";
export { Sources } from "./service.js";
export { Staging } from "./staging.js";
export { Watching } from "./watching.js";
