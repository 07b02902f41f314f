import { Router } from "express";
import { Problem, parse, pathParameter } from "../http/index.js";
import { requireRole } from "../access/index.js";
import { NEW_SOURCE, SETTLED } from "./schema.js";
import type { Sources } from "./service.js";

/** Declaring sources and taking their files; `mustNotUse` throws for a source in use. */
export function sourceRoutes(sources: Sources, mustNotUse: (source: string) => void): Router {
  const router = Router();

  router.get("/sources", requireRole("maker"), async (_request, response) => {
    response.json({ sources: await sources.list() });
  });

  router.post("/sources", requireRole("owner"), async (request, response) => {
    const made = await sources.create(parse(NEW_SOURCE, request.body));
    response.status(201).location(`/v1/sources/${made.name}`).json(made);
  });

  router.get("/sources/:name", requireRole("maker"), async (request, response) => {
    response.json(await sources.describe(pathParameter(request, "name")));
  });

  router.get("/sources/:name/profile", requireRole("maker"), async (request, response) => {
    response.json(await sources.profile(pathParameter(request, "name")));
  });

  router.put("/sources/:name/readings", requireRole("owner"), async (request, response) => {
    const { columns } = parse(SETTLED, request.body);
    response.json(await sources.settle(pathParameter(request, "name"), columns));
  });

  router.delete("/sources/:name", requireRole("owner"), async (request, response) => {
    const name = pathParameter(request, "name");
    sources.need(name);
    mustNotUse(name);
    await sources.remove(name);
    response.status(204).end();
  });

  router.put("/sources/:name/records", requireRole("owner"), async (request, response) => {
    if (request.is("text/csv") === false) {
      throw new Problem("unreadable-request", "Send the file as the body, as text/csv");
    }
    response.json(await sources.replaceRecords(pathParameter(request, "name"), request));
  });

  return router;
}
