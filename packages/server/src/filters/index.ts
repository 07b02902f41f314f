export { filterRoutes } from "./routes.js";
