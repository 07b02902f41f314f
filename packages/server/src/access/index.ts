export { AccessKey, Person, Session } from "./entities.js";
export { identify } from "./guard.js";
export { accessRoutes } from "./routes.js";
export { Issuer } from "./issuer.js";
export { issuerRoutes } from "./issuer-routes.js";
export { Sealer } from "./sealed.js";
export { Access } from "./service.js";
