export { Listing, ListingVersion } from "./entities.js";
export { listingRoutes, schemaRoutes } from "./routes.js";
export { Listings, shownColumn, type ListingTrial, type ServedListing } from "./service.js";
export { sharing } from "./sharing.js";
