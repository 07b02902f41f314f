export { Feed } from "./entities.js";
export { feedRoutes } from "./routes.js";
export { Feeds } from "./service.js";
