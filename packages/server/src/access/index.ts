export { AccessKey, Session } from "./entities.js";
export { callerWith, identify, mayAs, requireRole } from "./guard.js";
export { NEW_KEY, SIGN_IN } from "./schema.js";
export { accessRoutes } from "./routes.js";
export { Access, type KeyDescription } from "./service.js";
export { Sealer } from "./sealed.js";
