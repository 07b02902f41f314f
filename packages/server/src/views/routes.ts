import { VIEW_NAME } from "@orisma/contract";
import { Router } from "express";
import { parse, planned, route, sentValues } from "../http/index.js";
import type { Listings } from "../listings/index.js";
import type { Records } from "../records/index.js";
import type { Views } from "./service.js";

/** The views of listings, each for the one who keeps it. */
export function viewRoutes({
  views,
  listings,
  records,
}: {
  readonly views: Views;
  readonly listings: Listings;
  readonly records: Records;
}): Router {
  const router = Router();

  route(router, "GET /v1/listings/{name}/views", async ({ path, caller }) => {
    listings.view(path.name, caller);
    return { views: [...(await views.list(path.name, caller))] };
  });

  route(
    router,
    "PUT /v1/listings/{name}/views/{view}",
    planned(async ({ path, body: { parameters: sent, isDefault }, caller }) => {
      const listing = listings.need(path.name, caller);
      const name = parse(VIEW_NAME, path.view);
      const parameters = sentValues(sent);
      await records.prepare(listing, parameters, caller);
      return views.put(path.name, name, { parameters, isDefault }, caller);
    }),
  );

  route(router, "DELETE /v1/listings/{name}/views/{view}", async ({ path, caller }) => {
    listings.view(path.name, caller);
    await views.remove(path.name, path.view, caller);
  });

  return router;
}
