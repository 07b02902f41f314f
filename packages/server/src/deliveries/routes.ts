import { Router } from "express";
import { planned, route, sentValues } from "../http/index.js";
import type { Listings } from "../listings/index.js";
import type { Deliveries } from "./service.js";

/** Deliveries: added, listed and ended, run at once and tried again. */
export function deliveryRoutes(deliveries: Deliveries, listings: Listings): Router {
  const router = Router();

  route(router, "GET /v1/listings/{name}/deliveries", async ({ path, caller }) => {
    listings.view(path.name, caller);
    return { deliveries: [...(await deliveries.list(path.name))] };
  });

  route(
    router,
    "POST /v1/listings/{name}/deliveries",
    planned(({ path, body, caller }) => {
      listings.need(path.name, caller);
      const parameters = Object.fromEntries(sentValues(body.parameters));
      return deliveries.create(path.name, body, parameters, caller);
    }),
  );

  route(router, "DELETE /v1/listings/{name}/deliveries/{id}", async ({ path, caller }) => {
    listings.view(path.name, caller);
    await deliveries.remove(path.name, numberIn(path.id));
  });

  route(router, "GET /v1/listings/{name}/deliveries/{id}/runs", async ({ path, caller }) => {
    listings.view(path.name, caller);
    return { runs: [...(await deliveries.runs(path.name, numberIn(path.id)))] };
  });

  route(router, "POST /v1/listings/{name}/deliveries/{id}/runs", ({ path, caller }) => {
    listings.view(path.name, caller);
    return deliveries.runNow(path.name, numberIn(path.id));
  });

  route(router, "POST /v1/listings/{name}/deliveries/{id}/runs/{run}/retry", ({ path, caller }) => {
    listings.view(path.name, caller);
    return deliveries.retry(path.name, numberIn(path.id), numberIn(path.run));
  });

  return router;
}

/** 0, which nothing has, for what is no number. */
function numberIn(text: string): number {
  return /^\d{1,9}$/.test(text) ? Number(text) : 0;
}
