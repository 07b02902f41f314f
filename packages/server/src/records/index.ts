export { Cursors } from "./cursor.js";
export { LateChoice } from "./entities.js";
export { LateChoices } from "./late.js";
export { permittedTo } from "./moment.js";
export { recordRoutes } from "./routes.js";
export { Records } from "./service.js";
