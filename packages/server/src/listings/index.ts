export { FormerName, Listing, ListingVersion } from "./entities.js";
export { declarationOf, listingRoutes, schemaRoutes } from "./routes.js";
export { Listings, type ListingTrial } from "./service.js";
export { shownColumn, type ServedListing } from "./served.js";
export { publicCaller, publicLimit, publicReader } from "./public.js";
export { redirects } from "./redirects.js";
export { sharing } from "./sharing.js";
