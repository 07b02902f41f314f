import {
  declarationSchema,
  type Calls,
  type ListingDetails,
  type ListingSent,
  type ReadBody,
} from "@orisma/contract";
import {
  filterColumns,
  allowedWindows,
  fault,
  type Column,
  type NamedWindow,
} from "@orisma/core/internal";
import { Router } from "express";
import { SENT, problemOf, route } from "../http/index.js";
import type { NamedWindows } from "../windows/index.js";
import type { Listings, ListingView } from "./service.js";
import { describeOverride } from "./overrides.js";
import { changeRights } from "./rights.js";
import { declarationFor } from "./shown-to.js";
import { shownColumn } from "./served.js";

/** Declaring listings. */
export function listingRoutes(listings: Listings, windows: NamedWindows): Router {
  const router = Router();

  route(router, "GET /v1/listings", ({ caller }) => ({ listings: listings.list(caller) }));
  route(router, "GET /v1/listings/{name}", ({ path, caller }) => {
    const { listing, declared, broken } = listings.view(path.name, caller);
    const declaration = declarationFor(caller, declared, listing.shown);
    const rights = changeRights(caller, listing.declaration);
    const view = { listing: { ...listing, declaration }, declared, broken };
    const overrides = listing.overrides.map(describeOverride);
    return { ...listingDetails(view, windows.declared()), rights, overrides };
  });
  route(router, "GET /v1/listings/{name}/windows", ({ path, caller }) => {
    const { declaration, columns } = listings.need(path.name, caller);
    return { kinds: allowedWindows(declaration, columns) };
  });

  route(router, "PUT /v1/listings/{name}", async ({ path, body, caller, response }) => {
    const sent = declarationOf(path.name, body);
    const { created, ...listing } = await listings.declare(path.name, sent, caller.name);
    response.status(created ? 201 : 200);
    return listing;
  });

  route(router, "POST /v1/listings/{name}/copies", ({ path, body, caller, response }) => {
    response.location(`/v1/listings/${encodeURIComponent(body.name)}`);
    return listings.copy(path.name, body, caller);
  });
  route(router, "POST /v1/listings/{name}/rename", ({ path, body, caller }) =>
    listings.rename(path.name, body, caller),
  );

  route(router, "GET /v1/listings/{name}/overrides", ({ path, caller }) => ({
    overrides: [...listings.listOverrides(path.name, caller)],
  }));
  route(router, "PUT /v1/listings/{name}/overrides/{parameter}", ({ path, body, caller }) => {
    const { value, reason, until } = body;
    const sent = { value, reason, until: until === undefined ? null : Date.parse(until) };
    return listings.override(path.name, path.parameter, sent, caller);
  });
  route(router, "DELETE /v1/listings/{name}/overrides/{parameter}", ({ path, caller }) => {
    listings.view(path.name, caller);
    return listings.overrides.remove(path.name, path.parameter);
  });

  route(router, "GET /v1/listings/{name}/versions", async ({ path }) => ({
    versions: await listings.versions(path.name),
  }));
  route(router, "GET /v1/listings/{name}/versions/{version}", ({ path }) =>
    listings.version(path.name, versionNumber(path.version)),
  );
  route(
    router,
    "POST /v1/listings/{name}/versions/{version}/revert",
    async ({ path, caller, response }) => {
      const number = versionNumber(path.version);
      const { created, ...listing } = await listings.serveAgain(path.name, number, caller.name);
      response.status(created ? 201 : 200);
      return listing;
    },
  );

  route(router, "DELETE /v1/listings/{name}", ({ path, caller }) =>
    listings.remove(path.name, caller),
  );

  return router;
}

/** The declaration of a file; throws a problem where the file names another listing than the URL. */
export function declarationOf(
  named: string,
  { $schema: _schema, name = named, ...declaration }: ReadBody<Calls["PUT /v1/listings/{name}"]>,
): ListingSent {
  if (name === named) return declaration;
  const reason = `the file declares “${name}”, and the URL names “${named}”`;
  throw problemOf([fault("document.shape", { reason, nearest: named }, { path: "name" })]);
}

/** The schema of a declaration's file, which an editor fetches without a key. */
export function schemaRoutes(): Router {
  const router = Router();
  const schema = declarationSchema();
  route(router, "GET /schemas/listing.json", ({ response }) => {
    response.set("Cache-Control", "no-cache").type("application/schema+json").json(schema);
    return SENT;
  });
  return router;
}

/** 0, which no version has, for what is no number. */
function versionNumber(text: string): number {
  return /^\d{1,9}$/.test(text) ? Number(text) : 0;
}

/**
 * A listing with the types of its columns, which a page needs to draw them; of one that no longer
 * fits its source those that are there, so that it can be declared otherwise.
 */
function listingDetails(
  { listing, broken }: ListingView,
  namedWindows: readonly NamedWindow[],
): Omit<ListingDetails, "rights" | "overrides"> {
  const { declaration, version, shown, columns, derivedColumns, source } = listing;
  const details = {
    ...declaration,
    version,
    shown: shown.map((name) => typedColumn(shownColumn(name, { columns, derivedColumns }))),
    filterColumns: [...filterColumns(declaration, columns).values()].map(typedColumn),
    namedWindows,
    key: source.key,
  };
  return broken === null ? details : { ...details, broken };
}

function typedColumn(column: Column): ListingDetails["shown"][number] {
  const { name, type } = column;
  return type === "date" ? { name, type, kind: column.kind } : { name, type };
}
