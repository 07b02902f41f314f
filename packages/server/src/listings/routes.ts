import { permittedWindows } from "@orisma/core";
import { Router } from "express";
import { callerWith, requireRole } from "../access/index.js";
import { parse, pathParameter } from "../http/index.js";
import { LISTING } from "./schema.js";
import { shownColumn, type Listings, type ServedListing } from "./service.js";

/** Declaring listings. */
export function listingRoutes(listings: Listings): Router {
  const router = Router();

  router.get("/listings", (_request, response) => {
    response.json({ listings: listings.list(callerWith("reader", response)) });
  });

  router.get("/listings/:name", (request, response) => {
    const caller = callerWith("reader", response);
    response.json(listingAnswer(listings.need(pathParameter(request, "name"), caller)));
  });

  router.get("/listings/:name/windows", (request, response) => {
    const caller = callerWith("reader", response);
    const { declaration, columns } = listings.need(pathParameter(request, "name"), caller);
    response.json({ kinds: permittedWindows(declaration, columns) });
  });

  router.put("/listings/:name", requireRole("maker"), async (request, response) => {
    const sent = parse(LISTING, request.body);
    const { created, ...listing } = await listings.declare(pathParameter(request, "name"), sent);
    response.status(created ? 201 : 200).json(listing);
  });

  router.delete("/listings/:name", requireRole("maker"), async (request, response) => {
    await listings.remove(pathParameter(request, "name"), callerWith("maker", response));
    response.status(204).end();
  });

  return router;
}

/** A listing with the types of its columns, which a page needs to draw them. */
function listingAnswer({ declaration, version, shown, columns, made, source }: ServedListing) {
  const types = shown.map((name) => {
    const column = shownColumn(name, { columns, made });
    return column.type === "date"
      ? { name, type: column.type, kind: column.kind }
      : { name, type: column.type };
  });
  return { ...declaration, version, shown: types, key: source.key };
}
