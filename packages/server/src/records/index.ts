export { Cursors } from "./cursor.js";
export { Demand } from "./demand.js";
export { RecentChoice } from "./entities.js";
export { RecentChoices } from "./recent.js";
export { allowedTo } from "./moment.js";
export type { PreparedRequest } from "./prepared.js";
export { sendText } from "./sending.js";
export { recordRoutes, sendFeed } from "./routes.js";
export { Records, type RecordsPage } from "./service.js";
