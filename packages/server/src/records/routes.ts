import { createHash } from "node:crypto";
import express, { Router, type Request, type Response } from "express";
import { callerWith } from "../access/index.js";
import { whileAsked } from "../database/index.js";
import { Problem, parse, pathParameter, planned, sentParameters } from "../http/index.js";
import { LISTING, type Listings } from "../listings/index.js";
import { choices } from "./choices.js";
import { compare, sentOf } from "./compare.js";
import { counts } from "./counts.js";
import { difference } from "./difference.js";
import { FORMATS, type Format } from "@orisma/core";
import { MEDIA_TYPES, sendExport } from "./export.js";
import { together } from "./parts.js";
import type { LateChoices } from "./late.js";
import type { PreparedRequest } from "./prepared.js";
import { COMPARE, COUNT_REQUESTS, QUERY } from "./schema.js";
import type { Records, RecordsPage } from "./service.js";
import { summary } from "./summary.js";
import { extent, timeline } from "./timeline.js";

/** The records of listings, and how a request for them is understood. */
export function recordRoutes(
  records: Records,
  listings: Listings,
  late: LateChoices,
  now: () => number,
): Router {
  const router = Router();

  // Whoever goes before the answer wants it no more: its queries are ended.
  router.use("/listings/:name", (_request, response, next) => {
    const gone = new AbortController();
    response.once("close", () => {
      if (!response.writableFinished) gone.abort();
    });
    whileAsked(gone.signal, next);
  });

  const prepare = async (role: "reader" | "maker", request: Request, response: Response) => {
    const caller = callerWith(role, response);
    const listing = listings.need(pathParameter(request, "name"), caller);
    return records.prepare(listing, sentParameters(request.originalUrl), caller);
  };

  const answer = async (
    request: Request,
    response: Response,
    prepared: PreparedRequest,
    suffix?: Format,
  ) => {
    const { listing, planned, caller } = prepared;
    late.note(caller, listing.declaration.name, planned);
    const format = prepared.envelope.format ?? suffix ?? acceptedFormat(request);
    response.vary(VARIES);
    if (format !== "json" && request.method === "HEAD") {
      response.set("Content-Type", MEDIA_TYPES[format]).end();
      return;
    }
    if (format !== "json") return sendExport(response, format, prepared, records);
    const readAt = now();
    sendPage(request, response, await records.run(prepared), prepared.freshMs, readAt);
  };

  router.get(
    "/listings/:name/records",
    planned(async (request, response) => {
      await answer(request, response, await prepare("reader", request, response));
    }),
  );

  for (const format of FORMATS) {
    router.get(
      `/listings/:name/records.${format}`,
      planned(async (request, response) => {
        await answer(request, response, await prepare("reader", request, response), format);
      }),
    );
  }

  // The same in a body, for what outgrows an address.
  router.post(
    "/listings/:name/records/query",
    express.json({ limit: LARGEST_QUERY }),
    planned(async (request, response) => {
      const caller = callerWith("reader", response);
      const listing = listings.need(pathParameter(request, "name"), caller);
      // A link of the answer is followed with the same body: it says which page.
      const places = [...sentParameters(request.originalUrl)].filter(
        ([name]) => name === "cursor" || name === "page",
      );
      const sent = new Map([...sentOf(parse(QUERY, request.body)), ...places]);
      await answer(request, response, await records.prepare(listing, sent, caller));
    }),
  );

  router.get(
    "/listings/:name/records/:id",
    planned(async (request, response) => {
      const id = pathParameter(request, "id");
      const found = await records.one(await prepare("reader", request, response), id);
      if (found === null) throw new Problem("not-found", `The listing has no record ${id}`);
      sendTagged(request, response, found);
    }),
  );

  router.post(
    "/listings/:name/check",
    express.json({ limit: LARGEST_QUERY }),
    planned(async (request, response) => {
      const caller = callerWith("maker", response);
      const tried = listings.trial(pathParameter(request, "name"), parse(LISTING, request.body));
      response.json(await difference(records, tried, caller));
    }),
  );

  const asked = (request: Request, response: Response) => {
    const caller = callerWith("reader", response);
    const listing = listings.need(pathParameter(request, "name"), caller);
    return [listing, sentParameters(request.originalUrl), caller] as const;
  };

  router.get(
    "/listings/:name/choices/:column",
    planned(async (request, response) => {
      const [listing, sent, caller] = asked(request, response);
      const column = pathParameter(request, "column");
      sendTagged(request, response, await choices(records, listing, column, sent, caller, late));
    }),
  );

  router.get(
    "/listings/:name/extent",
    planned(async (request, response) => {
      const found = await together(await prepare("reader", request, response), extent);
      sendTagged(request, response, found);
    }),
  );

  router.get(
    "/listings/:name/timeline",
    planned(async (request, response) => {
      sendTagged(request, response, await timeline(records, ...asked(request, response)));
    }),
  );

  router.get(
    "/listings/:name/summary",
    planned(async (request, response) => {
      sendTagged(request, response, await summary(records, ...asked(request, response)));
    }),
  );

  for (const path of ["/listings/:name/why", "/listings/:name/why/:id"]) {
    router.get(
      path,
      planned(async (request, response) => {
        const id = request.params.id === undefined ? null : pathParameter(request, "id");
        const found = await records.why(await prepare("reader", request, response), id);
        sendTagged(request, response, found);
      }),
    );
  }

  router.get(
    "/listings/:name/explain",
    planned(async (request, response) => {
      response.json(await records.explain(await prepare("maker", request, response)));
    }),
  );

  router.post(
    "/listings/:name/compare",
    express.json({ limit: LARGEST_COMPARISON }),
    planned(async (request, response) => {
      const caller = callerWith("reader", response);
      const listing = listings.need(pathParameter(request, "name"), caller);
      const sent = parse(COMPARE, request.body);
      response.json(await compare(records, listing, sent, caller));
    }),
  );

  router.post(
    "/listings/:name/counts",
    express.json({ limit: LARGEST_COMPARISON }),
    planned(async (request, response) => {
      const caller = callerWith("reader", response);
      const listing = listings.need(pathParameter(request, "name"), caller);
      const sent = parse(COUNT_REQUESTS, request.body);
      response.json(await counts(records, listing, sent, caller));
    }),
  );

  return router;
}

/** Bytes of a query in a body at most. */
const LARGEST_QUERY = "1mb";

/** The format that a caller prefers (RFC 9110, section 12.5.1); JSON unless told. */
function acceptedFormat(request: Request): Format {
  const accepted = request.accepts(
    FORMATS.map((format) => MEDIA_TYPES[format].split(";")[0] ?? ""),
  );
  return FORMATS.find((format) => MEDIA_TYPES[format].split(";")[0] === accepted) ?? "json";
}

/** Bytes of several requests at most. */
const LARGEST_COMPARISON = "256kb";

/**
 * Sends a page with its links (RFC 8288) and an ETag (RFC 9110, section 8.8.3) of everything
 * but the passing of time, so that it changes only when the answer does.
 */
function sendPage(
  request: Request,
  response: Response,
  page: RecordsPage,
  freshMs: number,
  readAt: number,
): void {
  const links = linksOf(request, page);
  const records = JSON.stringify(page.records);
  const meta = JSON.stringify(page.meta);
  const linked = JSON.stringify(links);
  const hash = createHash("sha1")
    .update(records)
    .update(JSON.stringify(page.identity))
    .update(request.originalUrl)
    .digest("base64url");
  response.set(
    "Link",
    Object.entries(links)
      .map(
        ([relation, target]) => `<${target}>; rel="${relation === "previous" ? "prev" : relation}"`,
      )
      .join(", "),
  );
  const seconds = request.method === "POST" ? 0 : Math.floor(freshMs / 1_000);
  if (isAnswered(request, response, hash, seconds)) return;
  const metaWithTime = `${meta.slice(0, -1)},"readAt":"${new Date(readAt).toISOString()}"}`;
  response.type("json").send(`{"records":${records},"meta":${metaWithTime},"links":${linked}}`);
}

/** Sets what a cache has to know; answers with 304 to a caller that holds the answer. */
function isAnswered(
  request: Request,
  response: Response,
  hash: string,
  freshSeconds: number,
): boolean {
  // Weak, since the same answer may be sent compressed.
  const etag = `W/"${hash}"`;
  const held = freshSeconds === 0 ? "no-cache" : `max-age=${freshSeconds}`;
  response.set("Cache-Control", `private, ${held}`).set("ETag", etag);
  if (!isHeld(etag, request.headers["if-none-match"])) return false;
  response.status(304).end();
  return true;
}

/** Sends an answer with an ETag of all of it. */
function sendTagged(request: Request, response: Response, answer: object): void {
  const body = JSON.stringify(answer);
  const hash = createHash("sha1").update(body).update(request.originalUrl).digest("base64url");
  response.vary(VARIES);
  if (!isAnswered(request, response, hash, 0)) response.type("json").send(body);
}

/** What an answer depends on beside its address (RFC 9110, section 12.5.5). */
const VARIES = "Accept, Authorization, Cookie";

/**
 * Whether a caller says that it holds an answer (RFC 9110, section 13.1.2). The framework's own
 * test takes a `no-cache` beside it for a wish to be sent all, and `fetch` always adds one.
 */
function isHeld(etag: string, ifNoneMatch: string | undefined): boolean {
  const held = (ifNoneMatch ?? "").split(",").map((each) => each.trim().replace(/^W\//, ""));
  return held.includes(etag.replace(/^W\//, "")) || held.includes("*");
}

function linksOf(
  request: Request,
  { next, previous, numbered }: RecordsPage,
): Record<string, string> {
  const [path = "", query = ""] = request.originalUrl.split("?", 2);
  const parameters = new URLSearchParams(query);
  const name = numbered === null ? "cursor" : "page";
  parameters.delete(name);
  const linkTo = (place: string | number | null) => {
    const target = new URLSearchParams(parameters);
    if (place !== null) target.set(name, String(place));
    const text = target.toString();
    return text === "" ? path : `${path}?${text}`;
  };
  const beside = numbered ?? { next, previous };
  return {
    // Without its number the first page would go on by cursors.
    first: linkTo(numbered === null ? null : 1),
    ...(beside.next === null ? {} : { next: linkTo(beside.next) }),
    ...(beside.previous === null ? {} : { previous: linkTo(beside.previous) }),
  };
}
