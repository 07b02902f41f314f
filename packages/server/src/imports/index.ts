export { Imports } from "./imports.js";
export { importRoutes } from "./routes.js";
export { spool } from "./files/index.js";
export { Staging } from "./staging.js";
export { Watching } from "./watching.js";
