import { answerWindow, placed } from "@orisma/core/internal";
import { Router, type Request } from "express";
import { callerWith, requireRole } from "../access/index.js";
import { calendarOf } from "../calendars/index.js";
import { parse, pathParameter, problemOf, sentParameters } from "../http/index.js";
import { ASKED, LADDER, NAMED_WINDOW, RESOLVE } from "./schema.js";
import type { NamedWindows } from "./service.js";

/** Resolving windows, and those that have a name. */
export function windowRoutes(named: NamedWindows): Router {
  const router = Router();

  router.post("/windows/resolve", requireRole("reader"), (request, response) => {
    const { window, calendar, ...asked } = parse(RESOLVE, request.body);
    const context = named.context({ ...asked, calendar: calendarOf(calendar) });
    const answer = answerWindow(window, context);
    if (!answer.ok) {
      throw problemOf(answer.faults.map((each) => placed(each, { path: "window" })));
    }
    response.json(answer.value);
  });

  router.get("/windows", (request, response) => {
    callerWith("reader", response);
    response.json({ windows: named.list(askedIn(request)) });
  });

  router.put("/windows/:name", requireRole("maker"), async (request, response) => {
    const sent = parse(NAMED_WINDOW, request.body);
    response.json(await named.declare(pathParameter(request, "name"), sent));
  });

  router.delete("/windows/:name", requireRole("maker"), async (request, response) => {
    await named.remove(pathParameter(request, "name"));
    response.status(204).end();
  });

  router.get("/ladders", (request, response) => {
    callerWith("reader", response);
    response.json({ ladders: named.ladders(askedIn(request)) });
  });

  router.get("/ladders/:name", (request, response) => {
    callerWith("reader", response);
    response.json(named.ladder(pathParameter(request, "name"), askedIn(request)));
  });

  router.put("/ladders/:name", requireRole("maker"), async (request, response) => {
    const sent = parse(LADDER, request.body);
    response.json(await named.declareLadder(pathParameter(request, "name"), sent));
  });

  router.delete("/ladders/:name", requireRole("maker"), async (request, response) => {
    await named.removeLadder(pathParameter(request, "name"));
    response.status(204).end();
  });

  return router;
}

/** The instant and zone in an address; of one that was sent twice, the last. */
function askedIn(request: Request) {
  const sent = [...sentParameters(request.originalUrl)];
  return parse(ASKED, Object.fromEntries(sent.map(([name, values]) => [name, values.at(-1)])));
}
