export { Imports } from "./imports.js";
export { importRoutes } from "./routes.js";
export { Staging } from "./staging.js";
export { Watching } from "./watching.js";
