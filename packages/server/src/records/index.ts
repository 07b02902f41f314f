export { LateChoices } from "./late.js";
export { permittedTo } from "./moment.js";
export { recordRoutes } from "./routes.js";
export { COMPARE, COUNT_REQUESTS, QUERY } from "./schema.js";
export { Records } from "./service.js";
