export { Loads } from "./loads.js";
export { importRoutes } from "./routes.js";
export { Staging } from "./staging.js";
export { Watching } from "./watching.js";
