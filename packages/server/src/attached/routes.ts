import { Router } from "express";
import { route } from "../http/index.js";
import type { AttachedDatabases } from "./service.js";

/** Attaching databases, and what there is in them; the last throws for one in use. */
export function attachedRoutes(
  databases: AttachedDatabases,
  mustNotUse: (database: string) => void,
): Router {
  const router = Router();

  route(router, "GET /v1/databases", () => ({ databases: databases.list() }));
  route(router, "PUT /v1/databases/{name}", ({ path, body }) => databases.attach(path.name, body));
  route(router, "GET /v1/databases/{name}", ({ path }) => databases.describe(path.name));

  route(router, "DELETE /v1/databases/{name}", async ({ path: { name } }) => {
    databases.describe(name);
    mustNotUse(name);
    await databases.detach(name);
  });

  route(router, "GET /v1/databases/{name}/tables", async ({ path }) => ({
    tables: await databases.tables(path.name),
  }));
  route(router, "GET /v1/databases/{name}/tables/{table}", ({ path }) =>
    databases.table(path.name, path.table),
  );

  return router;
}
