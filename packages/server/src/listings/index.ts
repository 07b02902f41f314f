export { Listing } from "./entities.js";
export { listingRoutes } from "./routes.js";
export {
  Listings,
  shownColumn,
  type ListingDescription,
  type ListingTrial,
  type ServedListing,
} from "./service.js";
export { sharing } from "./sharing.js";
export { LISTING } from "./schema.js";
