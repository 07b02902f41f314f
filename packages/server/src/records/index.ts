export { recordRoutes } from "./routes.js";
export { Records } from "./service.js";
