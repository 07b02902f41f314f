import { Router } from "express";
import { requireRole } from "../access/index.js";
import { parse, pathParameter } from "../http/index.js";
import { ATTACHED } from "./schema.js";
import type { AttachedDatabases } from "./service.js";

/** Attaching databases, and what there is in them; the last throws for one in use. */
export function attachedRoutes(
  databases: AttachedDatabases,
  mustNotUse: (database: string) => void,
): Router {
  const router = Router();
  const owner = requireRole("owner");

  router.get("/databases", owner, (_request, response) => {
    response.json({ databases: databases.list() });
  });

  router.put("/databases/:name", owner, async (request, response) => {
    const sent = parse(ATTACHED, request.body);
    response.json(await databases.attach(pathParameter(request, "name"), sent));
  });

  router.get("/databases/:name", owner, (request, response) => {
    response.json(databases.describe(pathParameter(request, "name")));
  });

  router.delete("/databases/:name", owner, async (request, response) => {
    const name = pathParameter(request, "name");
    databases.describe(name);
    mustNotUse(name);
    await databases.detach(name);
    response.status(204).end();
  });

  router.get("/databases/:name/tables", owner, async (request, response) => {
    response.json({ tables: await databases.tables(pathParameter(request, "name")) });
  });

  router.get("/databases/:name/tables/:table", owner, async (request, response) => {
    const name = pathParameter(request, "name");
    response.json(await databases.table(name, pathParameter(request, "table")));
  });

  return router;
}
