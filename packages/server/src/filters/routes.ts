import { translateFilter, type TranslatedColumn } from "@orisma/core/internal";
import { Router } from "express";
import { requireRole } from "../access/index.js";
import { calendarOf } from "../calendars/index.js";
import { readingOf } from "../dates/index.js";
import { parse, problemOf } from "../http/index.js";
import type { NamedWindows } from "../windows/index.js";
import { TRANSLATE, type TranslateSent } from "./schema.js";

/** Writing filters for the databases of others, by which nothing is run. */
export function filterRoutes(windows: NamedWindows): Router {
  const router = Router();

  router.post("/filters/translate", requireRole("reader"), (request, response) => {
    const { asOf, zone, calendar, order, columns, ...sent } = parse(TRANSLATE, request.body);
    const window = windows.context({ asOf, zone, calendar: calendarOf(calendar) });
    const translated = translateFilter(
      {
        ...sent,
        ...(order === undefined ? {} : { order }),
        columns: Object.fromEntries(
          Object.entries(columns).map(([name, column]) => [name, columnOf(column)]),
        ),
      },
      window,
    );
    if (!translated.ok) throw problemOf(translated.faults);
    response.json(translated.value);
  });

  return router;
}

function columnOf(column: TranslateSent["columns"][string]): TranslatedColumn {
  const type =
    column.type === "date"
      ? ({ type: "date", reading: readingOf(column.reading) } as const)
      : ({ type: column.type } as const);
  return column.holding === undefined ? { type } : { type, holding: column.holding };
}
