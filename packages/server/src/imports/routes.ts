import { FILE, IMPORT_OPTIONS, type Calls, type ImportMode } from "@orisma/contract";
import { Router, type Request } from "express";
import { noteForAudit } from "../audit/index.js";
import { Problem, SENT, parse, route, type Received } from "../http/index.js";
import type { Sources } from "../sources/index.js";
import { inspectFile, spool } from "./files/index.js";
import type { Imports } from "./imports.js";
import type { Watching } from "./watching.js";

/** What the routes of imports work with. */
export interface ImportParts {
  readonly sources: Sources;
  readonly imports: Imports;
  readonly watching: Watching;
  /** The folder in which files lie while they are looked at. */
  readonly spoolFolder: string;
}

/** Importing files, whose bodies are read as they come, and all else that makes records again. */
export function importRoutes(parts: ImportParts): Router {
  const router = Router();
  addFiles(router, parts);
  addImports(router, parts);
  addWatches(router, parts);
  return router;
}

function addFiles(router: Router, { imports, spoolFolder }: ImportParts): void {
  const take =
    (mode: ImportMode) =>
    (received: Received<`${"PUT" | "POST" | "PATCH"} /v1/sources/{name}/records`>) => {
      const { path, query, request } = received;
      checkType(request);
      const { again, force, columns, file, edits, ...options } = query;
      const bytes = Number(request.headers["content-length"] ?? 0);
      const sent = { file: options, columns, again, force, bytes, name: file ?? null, edits };
      return whileConnected(received, async (signal) => {
        const report = await imports.take(path.name, mode, request, sent, signal);
        noteForAudit(received.response, { records: report.records });
        return report;
      });
    };
  route(router, "PUT /v1/sources/{name}/records", take("replace"));
  route(router, "POST /v1/sources/{name}/records", take("append"));
  route(router, "PATCH /v1/sources/{name}/records", take("update"));

  route(router, "POST /v1/files/inspect", (received) => {
    const { query, request } = received;
    checkType(request);
    return whileConnected(received, async () => {
      const file = await spool(request, spoolFolder);
      try {
        return await inspectFile(file, query);
      } finally {
        await file.remove();
      }
    });
  });
}

function addImports(router: Router, { sources, imports }: ImportParts): void {
  route(router, "GET /v1/sources/{name}/imports", async ({ path: { name } }) => ({
    running: imports.progress(name),
    imports: await imports.list(name),
  }));

  route(router, "DELETE /v1/sources/{name}/imports/running", ({ path: { name } }) => {
    sources.need(name);
    imports.cancel(name);
  });

  route(router, "GET /v1/sources/{name}/imports/{number}/refused", async (received) => {
    const { path, request, response } = received;
    const number = Number(path.number);
    const { rows, csv } = await imports.refused(path.name, Number.isInteger(number) ? number : 0);
    if (request.accepts(["application/json", "text/csv"]) !== "text/csv") return { refused: rows };
    const name = `${path.name}-refused-${number}.csv`;
    response.attachment(name).type("text/csv").send(csv());
    return SENT;
  });

  route(
    router,
    "PUT /v1/sources/{name}/readings",
    async ({ path: { name }, body: { columns, force, partly } }) =>
      (await sources.setAttachedReadings(name, columns, { force, partly })) ??
      imports.setReadings(name, columns, force),
  );

  route(router, "POST /v1/sources/{name}/restore", ({ path, body }) =>
    imports.restore(path.name, body.force, body.edits),
  );
}

function addWatches(router: Router, { sources, watching }: ImportParts): void {
  route(router, "PUT /v1/sources/{name}/watch", async ({ path: { name }, body }) => {
    parse(IMPORT_OPTIONS, body.options);
    sources.needOwn(name);
    await watching.check(body);
    const described = await sources.setWatch(name, body);
    watching.begin(name);
    return described;
  });

  route(router, "GET /v1/sources/{name}/watch", ({ path }) => watching.describe(path.name));

  route(router, "POST /v1/sources/{name}/watch/look", ({ path }) => watching.lookNow(path.name));

  route(router, "DELETE /v1/sources/{name}/watch", ({ path }) => sources.setWatch(path.name, null));
}

function checkType(request: Request): void {
  if (request.is([...FILE.media]) !== false) return;
  throw new Problem(
    "unsupported-media",
    `Send the file as the body, as ${FILE.media.join(", ")}. Its format is detected.`,
  );
}

/** Does something until the client disconnects; what is left of the body is dropped. */
async function whileConnected<T>(
  { request, response }: Pick<Received<keyof Calls>, "request" | "response">,
  work: (signal: AbortSignal) => Promise<T>,
): Promise<T> {
  const disconnected = new AbortController();
  const end = () => disconnected.abort();
  response.once("close", end);
  try {
    return await work(disconnected.signal);
  } finally {
    response.off("close", end);
    // Read and dropped, so that the caller of a refused file gets the answer.
    request.resume();
  }
}
