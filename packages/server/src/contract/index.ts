export { operations } from "./operations.js";
export { contractRoutes } from "./routes.js";
