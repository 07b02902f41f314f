export { Backups } from "./backups.js";
export { Doctor } from "./doctor.js";
export { upkeepRoutes } from "./routes.js";
