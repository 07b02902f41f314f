import {
  answerPhrase,
  answerWindow,
  withLocation,
  withMeant,
  type Fault,
} from "@orisma/core/internal";
import { Router } from "express";
import { problemOf, route } from "../http/index.js";
import type { NamedWindows } from "./service.js";

/** Resolving windows, and those that have a name. */
export function windowRoutes(named: NamedWindows): Router {
  const router = Router();

  route(router, "POST /v1/windows/resolve", ({ body: { window, phrases, locale, ...when } }) => {
    const context = named.context(when);
    const spoken = { ...context, ...(locale === undefined ? {} : { locale }) };
    const answer = phrases === true ? answerPhrase(window, spoken) : answerWindow(window, context);
    if (answer.ok) return answer.value;
    const faults = withMeant(answer.faults, window, "window", context);
    const placeOf = (each: Fault) => (each.code === "phrase.locale" ? "locale" : "window");
    throw problemOf(faults.map((each) => withLocation(each, { path: placeOf(each) })));
  });

  route(router, "GET /v1/windows", ({ query }) => ({ windows: named.list(query) }));
  route(router, "PUT /v1/windows/{name}", ({ path, body }) => named.declare(path.name, body));
  route(router, "DELETE /v1/windows/{name}", ({ path }) => named.remove(path.name));

  route(router, "GET /v1/ladders", ({ query }) => ({ ladders: named.ladders(query) }));
  route(router, "GET /v1/ladders/{name}", ({ path, query }) => named.ladder(path.name, query));
  route(router, "PUT /v1/ladders/{name}", ({ path, body }) => named.declareLadder(path.name, body));
  route(router, "DELETE /v1/ladders/{name}", ({ path }) => named.removeLadder(path.name));

  return router;
}
