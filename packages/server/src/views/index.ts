export { SavedView } from "./entities.js";
export { viewRoutes } from "./routes.js";
export { Views } from "./service.js";
