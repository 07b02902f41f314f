export type { AttachedColumn, AttachedTable, TableCatalogue } from "./catalogue.js";
export { isPattern, readTablePattern, type DateNamed, type DatedTable } from "./date-named.js";
export { isDistinct } from "./connection.js";
export { ATTACHED } from "./schema.js";
export { attachedRoutes } from "./routes.js";
export { AttachedDatabases, type DatabaseDescription } from "./service.js";
