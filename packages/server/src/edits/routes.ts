import { Router } from "express";
import type { Admission } from "../admission/index.js";
import { noteBounds, noteForAudit } from "../audit/index.js";
import {
  disconnectedSignal,
  planned,
  route,
  sentParameters,
  type Received,
} from "../http/index.js";
import type { Listings } from "../listings/index.js";
import { boundsOf, type Records } from "../records/index.js";
import type { Sources } from "../sources/index.js";
import type { ChangeRequest, Edits } from "./service.js";

/** What changes of records are served with. */
export interface EditParts {
  readonly edits: Edits;
  readonly sources: Sources;
  readonly listings: Listings;
  readonly records: Records;
  readonly admission: Admission;
}

type EditCall =
  | "PATCH /v1/listings/{name}/records/{id}"
  | "POST /v1/listings/{name}/actions/{action}"
  | "GET /v1/listings/{name}/edits"
  | "POST /v1/listings/{name}/edits/{number}/undo";

/** Edits, actions, their history, the repair of cells, and what stands on a column. */
export function editRoutes(parts: EditParts): Router {
  const { edits, sources, listings, records, admission } = parts;
  const router = Router();
  const requestOf = (received: Received<EditCall>): ChangeRequest => ({
    listing: listings.need(received.path.name, received.caller),
    sent: sentParameters(received.request.originalUrl),
    caller: received.caller,
    records: records.withAbort(new AbortController().signal, (prepared) => {
      noteBounds(received.response, boundsOf(prepared));
      return Promise.resolve();
    }),
  });
  /** A change that has begun is not ended with its client, who could not know what became of it. */
  const changing =
    <Name extends EditCall>(
      kind: "page" | "heavy",
      handler: Parameters<typeof planned<Name>>[0],
    ): ReturnType<typeof planned<Name>> =>
    (received) => {
      const { caller, path, request, response } = received as Received<EditCall>;
      const call = {
        kind,
        caller: caller.id,
        listing: path.name,
        costKey: `${request.method} ${(request.route as { readonly path: string }).path}`,
        ...listings.admissionOf(path.name),
      } as const;
      const run = planned(handler);
      return admission.run(call, disconnectedSignal(response), () => run(received));
    };

  route(
    router,
    "PATCH /v1/listings/{name}/records/{id}",
    changing("page", async (received) => {
      const { path, body, request, response } = received;
      const ifMatch = request.get("if-match");
      const edited = await edits.edit(requestOf(received), path.id, body.values, ifMatch);
      noteForAudit(response, { records: edited.edit === null ? 0 : 1 });
      return edited;
    }),
  );

  route(
    router,
    "POST /v1/listings/{name}/actions/{action}",
    changing("heavy", async (received) => {
      const { path, body, response } = received;
      const report = await edits.act(requestOf(received), path.action, body);
      noteForAudit(response, { records: report.edit === null ? 0 : report.changed });
      return report;
    }),
  );

  route(
    router,
    "GET /v1/listings/{name}/edits",
    changing("page", async (received) => ({
      edits: [...(await edits.history(requestOf(received), received.query))],
    })),
  );

  route(
    router,
    "POST /v1/listings/{name}/edits/{number}/undo",
    changing("heavy", async (received) => {
      const { path, caller, response } = received;
      const number = /^\d{1,9}$/.test(path.number) ? Number(path.number) : 0;
      const report = await edits.undo(listings.need(path.name, caller), number, caller);
      noteForAudit(response, { records: report.changed });
      return report;
    }),
  );

  route(router, "GET /v1/sources/{name}/columns/{column}/uses", async ({ path }) => ({
    listings: [...listings.columnUses(path.name, path.column)],
    sources: [...sources.madeOf(path.name, path.column)],
    edits: await edits.countIn(path.name, path.column),
  }));

  route(router, "PATCH /v1/sources/{name}/cells", ({ path, body, caller }) =>
    edits.repair(path.name, body, caller),
  );

  return router;
}
