export { HolidayList } from "./entities.js";
export { calendarRoutes } from "./routes.js";
export { CALENDAR, calendarOf } from "./schema.js";
export { HolidayLists, type CalendarWithLists, type HolidayListDescription } from "./service.js";
