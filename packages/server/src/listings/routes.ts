import { permittedWindows } from "@orisma/core/internal";
import { Router, type Request } from "express";
import { callerWith, requireRole } from "../access/index.js";
import { parse, pathParameter } from "../http/index.js";
import { LISTING, declarationSchema } from "./schema.js";
import { shownColumn, type Listings, type ToldListing } from "./service.js";

/** Declaring listings. */
export function listingRoutes(listings: Listings): Router {
  const router = Router();

  router.get("/listings", (_request, response) => {
    response.json({ listings: listings.list(callerWith("reader", response)) });
  });

  router.get("/listings/:name", (request, response) => {
    const caller = callerWith("reader", response);
    response.json(listingAnswer(listings.told(pathParameter(request, "name"), caller)));
  });

  router.get("/listings/:name/windows", (request, response) => {
    const caller = callerWith("reader", response);
    const { declaration, columns } = listings.need(pathParameter(request, "name"), caller);
    response.json({ kinds: permittedWindows(declaration, columns) });
  });

  router.put("/listings/:name", requireRole("maker"), async (request, response) => {
    const sent = parse(LISTING, request.body);
    const { name: by } = callerWith("maker", response);
    const name = pathParameter(request, "name");
    const { created, ...listing } = await listings.declare(name, sent, by);
    response.status(created ? 201 : 200).json(listing);
  });

  router.get("/listings/:name/versions", requireRole("maker"), async (request, response) => {
    response.json({ versions: await listings.versions(pathParameter(request, "name")) });
  });

  router.get(
    "/listings/:name/versions/:version",
    requireRole("maker"),
    async (request, response) => {
      response.json(await listings.version(...versionIn(request)));
    },
  );

  // Serving an older version again is a new version, so that no cursor of another is taken for its own.
  router.post(
    "/listings/:name/versions/:version/serve",
    requireRole("maker"),
    async (request, response) => {
      const caller = callerWith("maker", response);
      const [name, version] = versionIn(request);
      const { name: _name, ...declaration } = await listings.version(name, version);
      const { created, ...listing } = await listings.declare(
        name,
        parse(LISTING, declaration),
        caller.name,
      );
      response.status(created ? 201 : 200).json(listing);
    },
  );

  router.delete("/listings/:name", requireRole("maker"), async (request, response) => {
    await listings.remove(pathParameter(request, "name"), callerWith("maker", response));
    response.status(204).end();
  });

  return router;
}

/** The schema of a declaration's file, which an editor fetches without a key. */
export function schemaRoutes(): Router {
  const router = Router();
  const schema = declarationSchema();
  router.get("/schemas/listing.json", (_request, response) => {
    response.set("Cache-Control", "no-cache").type("application/schema+json").json(schema);
  });
  return router;
}

function versionIn(request: Request): readonly [name: string, version: number] {
  const version = pathParameter(request, "version");
  return [pathParameter(request, "name"), /^\d{1,9}$/.test(version) ? Number(version) : 0];
}

/**
 * A listing with the types of its columns, which a page needs to draw them; of one that no longer
 * fits its source those that are there, so that it can be declared otherwise.
 */
function listingAnswer({ listing, broken }: ToldListing) {
  const { declaration, version, shown, columns, made, source } = listing;
  const types = shown.map((name) => {
    const column = shownColumn(name, { columns, made });
    return column.type === "date"
      ? { name, type: column.type, kind: column.kind }
      : { name, type: column.type };
  });
  const told = { ...declaration, version, shown: types, key: source.key };
  return broken === null ? told : { ...told, broken };
}
