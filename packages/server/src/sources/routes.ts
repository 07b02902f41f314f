import { Router } from "express";
import { planned, route } from "../http/index.js";
import type { Indexing } from "./indexing.js";
import type { Sources } from "./service.js";

/** Declaring sources, and looking at them; the last throws for one in use. */
export function sourceRoutes(
  sources: Sources,
  indexing: Indexing,
  mustNotUse: (source: string) => void,
): Router {
  const router = Router();

  route(router, "GET /v1/sources", async () => ({ sources: await sources.list() }));

  route(router, "POST /v1/sources", async ({ body, response }) => {
    const created = await sources.create(body);
    response.location(`/v1/sources/${created.name}`);
    return created;
  });

  route(router, "GET /v1/sources/{name}", ({ path }) => sources.describe(path.name));

  route(router, "DELETE /v1/sources/{name}", async ({ path: { name } }) => {
    sources.need(name);
    mustNotUse(name);
    sources.mustNotUse(name);
    await sources.remove(name);
  });

  route(
    router,
    "GET /v1/sources/{name}/profile",
    planned(({ path }) => sources.profile(path.name)),
  );

  route(
    router,
    "POST /v1/sources/{name}/readings/preview",
    planned(async ({ path: { name }, body: { columns } }) => ({
      columns: await sources.preview(name, columns),
      breaks: sources.brokenByReadings(name, columns),
    })),
  );

  route(
    router,
    "GET /v1/sources/{name}/records/{id}",
    planned(({ path }) => sources.inspect(path.name, path.id)),
  );

  route(router, "PUT /v1/sources/{name}/edits", ({ path, body }) =>
    sources.setEditPolicy(path.name, body.onImport),
  );

  route(router, "GET /v1/sources/{name}/indexes", ({ path }) => indexing.list(path.name));

  route(router, "POST /v1/sources/{name}/indexes", ({ path, body }) =>
    indexing.add(path.name, body.columns),
  );

  route(router, "DELETE /v1/sources/{name}/indexes/{columns}", ({ path }) =>
    indexing.remove(path.name, path.columns),
  );

  return router;
}
