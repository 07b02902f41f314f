export type { AttachedColumn, AttachedTable, TableCatalogue } from "./catalogue.js";
export { isDistinct } from "./connection.js";
export { attachedRoutes } from "./routes.js";
export { AttachedDatabases, type DatabaseDescription } from "./service.js";
