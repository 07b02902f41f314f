export { dateRoutes } from "./routes.js";
