export type { AttachedColumn, TableCatalogue } from "./catalogue.js";
export { isPattern, readTablePattern, type DateNamed, type DatedTable } from "./date-named.js";
export { AttachedDatabase } from "./entities.js";
export { isDistinct } from "./connection.js";
export { attachedRoutes } from "./routes.js";
export { AttachedDatabases } from "./service.js";
