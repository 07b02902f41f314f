import { fault } from "@orisma/core/internal";
import { Router } from "express";
import { SENT, problemOf, route } from "../http/index.js";
import type { AuditEntry } from "./entities.js";
import type { AuditTrail } from "./trail.js";

const DEFAULT_LIMIT = 100;

/** The audit trail, for owners: as JSON, or as one JSON document a line. */
export function auditRoutes(trail: AuditTrail): Router {
  const router = Router();
  route(router, "GET /v1/audit", async ({ query, request, response }) => {
    const { from, before, limit = DEFAULT_LIMIT, cursor, ...rest } = query;
    const entries = await trail.find({
      ...rest,
      ...(from === undefined ? {} : { fromMs: Date.parse(from) }),
      ...(before === undefined ? {} : { beforeMs: Date.parse(before) }),
      ...(cursor === undefined ? {} : { beforeId: idOf(cursor) }),
      limit: limit + 1,
    });
    const shown = entries.slice(0, limit).map(described);
    const next = entries.length > limit ? (shown.at(-1)?.id ?? null) : null;
    if (request.accepts(["application/json", "application/x-ndjson"]) !== "application/x-ndjson") {
      return { entries: shown, next };
    }
    if (next !== null) response.set("X-Next-Cursor", next);
    response
      .type("application/x-ndjson")
      .send(shown.map((each) => `${JSON.stringify(each)}\n`).join(""));
    return SENT;
  });
  return router;
}

function idOf(cursor: string): string {
  if (/^\d{1,19}$/.test(cursor)) return cursor;
  throw problemOf([fault("cursor.unreadable", {}, { parameter: "cursor" })]);
}

function described({ id, at, details, ...entry }: AuditEntry) {
  return { id, at: new Date(at).toISOString(), ...entry, details };
}
