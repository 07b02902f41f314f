export { consoleRoutes } from "./console.js";
export { healthRoutes, problemRoutes } from "./routes.js";
