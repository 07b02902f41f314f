export { Cursors } from "./cursor.js";
export { LateChoice } from "./entities.js";
export { RecentChoices } from "./recent.js";
export { permittedTo } from "./moment.js";
export { recordRoutes } from "./routes.js";
export { Records } from "./service.js";
