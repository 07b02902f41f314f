import type { Answer, Calls, ReadBody } from "@orisma/contract";
import {
  translateFilter,
  type Result,
  type TranslatedColumn,
  type WindowContext,
} from "@orisma/core/internal";
import { Router } from "express";
import { problemOf, route } from "../http/index.js";
import type { NamedWindows } from "../windows/index.js";

type Translate = Calls["POST /v1/filters/translate"];

/** Writing filters for the databases of others, by which nothing is run. */
export function filterRoutes(windows: NamedWindows): Router {
  const router = Router();
  route(router, "POST /v1/filters/translate", ({ body }) => {
    const { asOf, zone, calendar } = body;
    const when = { zone, ...(asOf && { asOf }), ...(calendar && { calendar }) };
    const translation = translationOf(body, windows.context(when));
    if (!translation.ok) throw problemOf(translation.faults);
    return translation.value;
  });
  return router;
}

/** A filter as it was sent, written for its database. */
export function translationOf(
  { asOf: _asOf, zone: _zone, calendar: _calendar, columns, ...sent }: ReadBody<Translate>,
  context: WindowContext,
): Result<Answer<Translate>> {
  const named = Object.entries(columns).map(([name, each]) => [name, columnOf(each)] as const);
  return translateFilter({ ...sent, columns: Object.fromEntries(named) }, context);
}

function columnOf(column: ReadBody<Translate>["columns"][string]): TranslatedColumn {
  const { holding, ...type } = column;
  return holding === undefined ? { type } : { type, holding };
}
