export { DeclaredWindow, Ladder } from "./entities.js";
export { windowRoutes } from "./routes.js";
export { NamedWindows } from "./service.js";
