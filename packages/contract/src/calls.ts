import { ACCESS_CALLS } from "./access.js";
import { AUDIT_CALLS } from "./audit.js";
import { DATABASE_CALLS } from "./databases.js";
import { DATE_CALLS } from "./dates.js";
import { DELIVERY_CALLS } from "./deliveries.js";
import { EDIT_CALLS } from "./edits.js";
import { FEED_CALLS } from "./feeds.js";
import { VIEW_CALLS } from "./views.js";
import { FILE_CALLS } from "./files.js";
import { FILTER_CALLS } from "./filters.js";
import { HOLIDAY_CALLS } from "./holidays.js";
import { LISTING_CALLS } from "./listings.js";
import { OVERRIDE_CALLS } from "./overrides.js";
import { RECORD_CALLS } from "./records.js";
import { SERVICE_CALLS } from "./service.js";
import { SOURCE_CALLS } from "./sources.js";
import { UPKEEP_CALLS } from "./upkeep.js";
import { WINDOW_CALLS } from "./windows.js";

/** Every call of the service by its name. */
export type Calls = typeof WINDOW_CALLS &
  typeof HOLIDAY_CALLS &
  typeof DATE_CALLS &
  typeof FILTER_CALLS &
  typeof SOURCE_CALLS &
  typeof FILE_CALLS &
  typeof DATABASE_CALLS &
  typeof LISTING_CALLS &
  typeof OVERRIDE_CALLS &
  typeof RECORD_CALLS &
  typeof DELIVERY_CALLS &
  typeof EDIT_CALLS &
  typeof FEED_CALLS &
  typeof VIEW_CALLS &
  typeof ACCESS_CALLS &
  typeof AUDIT_CALLS &
  typeof UPKEEP_CALLS &
  typeof SERVICE_CALLS;

export const CALLS: Calls = {
  ...WINDOW_CALLS,
  ...HOLIDAY_CALLS,
  ...DATE_CALLS,
  ...FILTER_CALLS,
  ...SOURCE_CALLS,
  ...FILE_CALLS,
  ...DATABASE_CALLS,
  ...LISTING_CALLS,
  ...OVERRIDE_CALLS,
  ...RECORD_CALLS,
  ...DELIVERY_CALLS,
  ...EDIT_CALLS,
  ...FEED_CALLS,
  ...VIEW_CALLS,
  ...ACCESS_CALLS,
  ...AUDIT_CALLS,
  ...UPKEEP_CALLS,
  ...SERVICE_CALLS,
};
