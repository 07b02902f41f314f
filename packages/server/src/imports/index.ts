export { Imports } from "./imports.js";
export { importRoutes } from "./routes.js";
export type { EditKeeper, KeptEdits, ReplacedTable } from "./keeping.js";
export { spool } from "./files/index.js";
export { Staging } from "./staging.js";
export { Watching } from "./watching.js";
export { Fetcher } from "./fetching.js";
export { WatchLookEntity } from "./entities.js";
