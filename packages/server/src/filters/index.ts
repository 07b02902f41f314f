export { filterRoutes } from "./routes.js";
export { TRANSLATE } from "./schema.js";
