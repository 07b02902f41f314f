import express, { Router, type Request, type Response } from "express";
import { callerWith } from "../access/index.js";
import { whileAsked } from "../database/index.js";
import { Problem, parse, pathParameter, planned, sentParameters } from "../http/index.js";
import { LISTING, type Listings } from "../listings/index.js";
import { choices } from "./choices.js";
import { compare, sentOf } from "./compare.js";
import { counts } from "./counts.js";
import { difference } from "./difference.js";
import { FORMATS, type Format } from "@orisma/core/internal";
import { MEDIA_TYPES, sendExport } from "./export.js";
import { VARIES, acceptedFormat, sendPage, sendTagged } from "./sending.js";
import { together } from "./parts.js";
import type { LateChoices } from "./late.js";
import type { PreparedRequest } from "./prepared.js";
import { COMPARE, COUNT_REQUESTS, QUERY } from "./schema.js";
import type { Records } from "./service.js";
import { summary } from "./summary.js";
import { extent, timeline } from "./timeline.js";

/** What the calls around records are answered with. */
interface Answering {
  readonly router: Router;
  readonly records: Records;
  readonly listings: Listings;
  readonly late: LateChoices;
  readonly now: () => number;
}

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
  const answering = { router, records, listings, late, now };
  addRecords(answering);
  addAround(answering);
  addComparisons(answering);
  return router;
}

/** The listing and the parameters of an address, and who asks. */
function requested(
  listings: Listings,
  role: "reader" | "maker",
  request: Request,
  response: Response,
) {
  const caller = callerWith(role, response);
  const listing = listings.need(pathParameter(request, "name"), caller);
  return [listing, sentParameters(request.originalUrl), caller] as const;
}

/** Pages and exports of records, in an address and in a body, and one record by its id. */
function addRecords({ router, records, listings, late, now }: Answering): void {
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
      await answer(
        request,
        response,
        await records.prepare(...requested(listings, "reader", request, response)),
      );
    }),
  );

  for (const format of FORMATS) {
    router.get(
      `/listings/:name/records.${format}`,
      planned(async (request, response) => {
        await answer(
          request,
          response,
          await records.prepare(...requested(listings, "reader", request, response)),
          format,
        );
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
      const found = await records.one(
        await records.prepare(...requested(listings, "reader", request, response)),
        id,
      );
      if (found === null) throw new Problem("not-found", `The listing has no record ${id}`);
      sendTagged(request, response, found);
    }),
  );
}

/** What an interface needs around the records: choices, extents, timeline, summary, explanations. */
function addAround({ router, records, listings, late }: Answering): void {
  router.get(
    "/listings/:name/choices/:column",
    planned(async (request, response) => {
      const [listing, sent, caller] = requested(listings, "reader", request, response);
      const column = pathParameter(request, "column");
      sendTagged(request, response, await choices(records, listing, column, sent, caller, late));
    }),
  );

  router.get(
    "/listings/:name/extent",
    planned(async (request, response) => {
      const found = await together(
        await records.prepare(...requested(listings, "reader", request, response)),
        extent,
      );
      sendTagged(request, response, found);
    }),
  );

  router.get(
    "/listings/:name/timeline",
    planned(async (request, response) => {
      sendTagged(
        request,
        response,
        await timeline(records, ...requested(listings, "reader", request, response)),
      );
    }),
  );

  router.get(
    "/listings/:name/summary",
    planned(async (request, response) => {
      sendTagged(
        request,
        response,
        await summary(records, ...requested(listings, "reader", request, response)),
      );
    }),
  );

  for (const path of ["/listings/:name/why", "/listings/:name/why/:id"]) {
    router.get(
      path,
      planned(async (request, response) => {
        const id = request.params.id === undefined ? null : pathParameter(request, "id");
        const found = await records.why(
          await records.prepare(...requested(listings, "reader", request, response)),
          id,
        );
        sendTagged(request, response, found);
      }),
    );
  }

  router.get(
    "/listings/:name/explain",
    planned(async (request, response) => {
      response.json(
        await records.explain(
          await records.prepare(...requested(listings, "maker", request, response)),
        ),
      );
    }),
  );
}

/** A declaration beside the one that serves, and several requests beside one another. */
function addComparisons({ router, records, listings }: Answering): void {
  router.post(
    "/listings/:name/check",
    express.json({ limit: LARGEST_QUERY }),
    planned(async (request, response) => {
      const caller = callerWith("maker", response);
      const tried = listings.trial(pathParameter(request, "name"), parse(LISTING, request.body));
      response.json(await difference(records, tried, caller));
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
}

/** Bytes of a query in a body at most. */
const LARGEST_QUERY = "1mb";

/** Bytes of several requests at most. */
const LARGEST_COMPARISON = "256kb";
