export { DeclaredWindow, Ladder } from "./entities.js";
export { ASKED, LADDER, NAMED_WINDOW, RESOLVE } from "./schema.js";
export { windowRoutes } from "./routes.js";
export { NamedWindows, type LadderAnswer } from "./service.js";
