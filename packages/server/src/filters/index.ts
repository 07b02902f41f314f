export { filterRoutes, translationOf } from "./routes.js";
