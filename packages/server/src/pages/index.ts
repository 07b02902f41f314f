export { pageRoutes } from "./routes.js";
