import { fault } from "@orisma/core/internal";
import { Router, type Request, type Response } from "express";
import { FILE_OPTIONS, lookAtFile, spool } from "../files/index.js";
import {
  Problem,
  parse,
  pathParameter,
  planned,
  problemOf,
  sentParameters,
} from "../http/index.js";
import { requireRole } from "../access/index.js";
import type { LoadMode } from "./modes.js";
import type { Loads } from "./loads.js";
import { NEW_SOURCE, REPAIR, RESTORED, SETTLED, TAKE, WATCH } from "./schema.js";
import type { Sources } from "./service.js";
import type { Watching } from "./watching.js";

/** What the routes of sources work with. */
export interface SourceParts {
  readonly sources: Sources;
  readonly loads: Loads;
  readonly watching: Watching;
  /** Throws for a source in use. */
  readonly mustNotUse: (source: string) => void;
  /** The folder in which files lie while they are looked at. */
  readonly spoolFolder: string;
}

/** Declaring sources, looking at them and settling them. */
export function sourceRoutes(parts: SourceParts): Router {
  const { sources, loads, watching } = parts;
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

  router.delete("/sources/:name", requireRole("owner"), async (request, response) => {
    const name = pathParameter(request, "name");
    sources.need(name);
    parts.mustNotUse(name);
    sources.mustNotUse(name);
    await sources.remove(name);
    response.status(204).end();
  });

  router.get(
    "/sources/:name/profile",
    requireRole("maker"),
    planned(async (request, response) => {
      response.json(await sources.profile(pathParameter(request, "name")));
    }),
  );

  router.put("/sources/:name/readings", requireRole("owner"), async (request, response) => {
    const { columns, force } = parse(SETTLED, request.body);
    const name = pathParameter(request, "name");
    const settled = await sources.settleAttached(name, columns, force);
    response.json(settled ?? (await loads.settle(name, columns, force)));
  });

  router.post(
    "/sources/:name/readings/preview",
    requireRole("maker"),
    planned(async (request, response) => {
      const { columns } = parse(SETTLED, request.body);
      const name = pathParameter(request, "name");
      response.json({
        columns: await sources.preview(name, columns),
        breaks: sources.brokenBySettling(name, columns),
      });
    }),
  );

  router.get(
    "/sources/:name/records/:id",
    requireRole("maker"),
    planned(async (request, response) => {
      const name = pathParameter(request, "name");
      response.json(await sources.inspect(name, pathParameter(request, "id")));
    }),
  );

  router.patch("/sources/:name/cells", requireRole("owner"), async (request, response) => {
    const repair = parse(REPAIR, request.body);
    response.json(await sources.repair(pathParameter(request, "name"), repair));
  });

  router.post("/sources/:name/restore", requireRole("owner"), async (request, response) => {
    const { force } = parse(RESTORED, request.body ?? {});
    response.json(await loads.restore(pathParameter(request, "name"), force));
  });

  router.put("/sources/:name/watch", requireRole("owner"), async (request, response) => {
    const watch = parse(WATCH, request.body);
    parse(TAKE, watch.options);
    const name = pathParameter(request, "name");
    sources.needOwn(name);
    await watching.check(watch);
    response.json(await sources.setWatch(name, watch));
  });

  router.delete("/sources/:name/watch", requireRole("owner"), async (request, response) => {
    response.json(await sources.setWatch(pathParameter(request, "name"), null));
  });

  return router;
}

/** The media types of files; all else is refused, so that a form is not taken for one. */
export const FILE_TYPES = [
  "application/octet-stream",
  "text/csv",
  "text/tab-separated-values",
  "text/plain",
  "application/json",
  "application/x-ndjson",
  "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
  "application/vnd.oasis.opendocument.spreadsheet",
];

/** Taking files, whose bodies are read as they come; mounted before the reader of JSON. */
export function fileRoutes({ loads, sources, spoolFolder }: SourceParts): Router {
  const router = Router();
  const owner = requireRole("owner");

  const take = (mode: LoadMode) => async (request: Request, response: Response) => {
    checkType(request);
    const { again, force, columns, file, ...options } = parse(
      TAKE,
      fileParameters(request, ["columns"]),
    );
    const sent = { file: options, columns, again, force, name: file ?? null };
    const name = pathParameter(request, "name");
    const report = await whileHeard(request, response, (signal) =>
      loads.take(name, mode, request, sent, signal),
    );
    response.json(report);
  };
  router.put("/sources/:name/records", owner, take("replace"));
  router.post("/sources/:name/records", owner, take("append"));
  router.patch("/sources/:name/records", owner, take("update"));

  router.post("/files/look", owner, async (request, response) => {
    checkType(request);
    const options = parse(FILE_OPTIONS, fileParameters(request, []));
    const look = await whileHeard(request, response, async () => {
      const file = await spool(request, spoolFolder);
      try {
        return await lookAtFile(file, options);
      } finally {
        await file.remove();
      }
    });
    response.json(look);
  });

  router.get("/sources/:name/loads", requireRole("maker"), async (request, response) => {
    const name = pathParameter(request, "name");
    response.json({ running: loads.progress(name), loads: await loads.list(name) });
  });

  router.delete("/sources/:name/loads/running", owner, (request, response) => {
    const name = pathParameter(request, "name");
    sources.need(name);
    loads.cancel(name);
    response.status(204).end();
  });

  router.get(
    "/sources/:name/loads/:load/refused",
    requireRole("maker"),
    async (request, response) => {
      const number = Number(pathParameter(request, "load"));
      const name = pathParameter(request, "name");
      const { rows, csv } = await loads.refused(name, Number.isInteger(number) ? number : 0);
      if (request.accepts(["application/json", "text/csv"]) === "text/csv") {
        response.attachment(`${name}-refused-${number}.csv`).type("text/csv").send(csv());
      } else response.json({ refused: rows });
    },
  );

  return router;
}

function checkType(request: Request): void {
  if (request.is(FILE_TYPES) !== false) return;
  throw new Problem(
    "unreadable-request",
    `Send the file as the body, as ${FILE_TYPES.join(", ")}; what it is, is found out`,
  );
}

/** The parameters of an address; only the named ones may be repeated. */
function fileParameters(request: Request, lists: readonly string[]): Record<string, unknown> {
  const known = [...Object.keys(TAKE.shape)];
  const sent = [...sentParameters(request.originalUrl)];
  const faults = sent.flatMap(([name, values]) => {
    const place = { parameter: name };
    if (!known.includes(name)) return [fault("parameter.unknown", { name, known }, place)];
    if (values.length === 1 || lists.includes(name)) return [];
    return [fault("parameter.repeated", { name, times: values.length }, place)];
  });
  if (faults.length > 0) throw problemOf(faults);
  return Object.fromEntries(
    sent.map(([name, values]) => [name, lists.includes(name) ? values : values[0]]),
  );
}

/** Does something as long as the caller waits for it; what is left of the body is dropped. */
async function whileHeard<T>(
  request: Request,
  response: Response,
  work: (signal: AbortSignal) => Promise<T>,
): Promise<T> {
  const hungUp = new AbortController();
  const end = () => hungUp.abort();
  response.once("close", end);
  try {
    return await work(hungUp.signal);
  } finally {
    response.off("close", end);
    // Read and dropped, so that the caller of a refused file gets the answer.
    request.resume();
  }
}
