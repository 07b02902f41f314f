export { windowRoutes } from "./routes.js";
