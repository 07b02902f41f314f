export { openApiRoutes } from "./routes.js";
