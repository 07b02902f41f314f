export { Listing } from "./entities.js";
export { listingRoutes, schemaRoutes } from "./routes.js";
export {
  Listings,
  shownColumn,
  type ListingDescription,
  type ListingTrial,
  type ListingVersionDescription,
  type ServedListing,
} from "./service.js";
export { sharing } from "./sharing.js";
export { LISTING, declarationSchema } from "./schema.js";
