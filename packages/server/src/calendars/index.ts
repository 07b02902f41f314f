export { HolidayList } from "./entities.js";
export { calendarRoutes } from "./routes.js";
export { HolidayLists } from "./service.js";
