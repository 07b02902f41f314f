import type { Calls } from "@orisma/contract";
import { FORMATS, epochMs, fault, type Format } from "@orisma/core/internal";
import { Router, type Request, type Response } from "express";
import type { Admission, AdmittedCall, CostClass } from "../admission/index.js";
import { noteBounds, noteForAudit } from "../audit/index.js";
import { TooSlow } from "../database/index.js";
import {
  Problem,
  type Caller,
  disconnectedSignal,
  SENT,
  planned,
  problemOf,
  route,
  sentParameters,
  type Received,
  type Returned,
} from "../http/index.js";
import {
  changeRights,
  declarationOf,
  ownEndpointOf,
  type Listings,
  type OwnEndpoint,
  type ServedListing,
} from "../listings/index.js";
import { choices } from "./choices.js";
import { compare, sentOf } from "./compare.js";
import { counts } from "./counts.js";
import { difference } from "./difference.js";
import { MEDIA_TYPES, feedRecords, sendExport } from "./export.js";
import { LOOK_AGAIN_S, atomText, calendarText } from "./feed.js";
import type { RecentChoices } from "./recent.js";
import { inSnapshot } from "./parts.js";
import type { Demand } from "./demand.js";
import type { PreparedRequest } from "./prepared.js";
import {
  VARIES,
  acceptedFormat,
  sendEditable,
  sendOwn,
  sendPage,
  sendTagged,
  sendText,
} from "./sending.js";
import { boundsOf, type Records } from "./service.js";
import { mustBeFound } from "./scan.js";
import { tooSlow } from "./slow.js";
import { summary } from "./summary.js";
import { extent, timeline } from "./timeline.js";

/** What the calls around records are answered with. */
interface Answering {
  readonly router: Router;
  readonly admission: Admission;
  readonly records: Records;
  readonly listings: Listings;
  readonly recent: RecentChoices;
  readonly demand: Demand;
  /** Records that a request may look at one by one at most. */
  readonly maxScanned: number;
  readonly now: () => number;
}

/** The records of listings, and how a request for them is understood. */
export function recordRoutes(
  records: Records,
  listings: Listings,
  recent: RecentChoices,
  admission: Admission,
  { demand, maxScanned, now }: Pick<Answering, "demand" | "maxScanned" | "now">,
): Router {
  const router = Router();

  const answering = { router, admission, records, listings, recent, demand, maxScanned, now };
  addRecords(answering);
  addAround(answering);
  addComparisons(answering);
  return router;
}

/** A call that reads the records of a listing. */
type RecordsCall = {
  [Name in keyof Calls]: Name extends `${string}/listings/{name}${string}` ? Name : never;
}[keyof Calls];

/**
 * A handler that reads records, when it is its turn (see {@link Admission}). Nobody waits for them once the
 * client has disconnected: then its queries are ended.
 */
function reading<Name extends RecordsCall>(
  { records, listings, admission, demand, maxScanned }: Answering,
  kind: CostClass | ((received: Received<Name>) => CostClass),
  handler: (received: Received<Name>, records: Records) => Promise<Returned<Name>>,
  /** Whether it is about a request that itself is not run. */
  isAbout = false,
): (received: Received<Name>) => Promise<Returned<Name>> {
  return (received) => {
    const { response, request, caller, path } = received;
    const signal = disconnectedSignal(response);
    const { name: listing } = path;
    const call: AdmittedCall = {
      kind: typeof kind === "function" ? kind(received) : kind,
      caller: caller?.id ?? "",
      credentials: request.headers.authorization,
      path: request.originalUrl.split("?", 1)[0],
      listing,
      costKey: costKeyOf(request),
      ...listings.admissionOf(listing),
    };
    const understood: { last?: PreparedRequest } = {};
    const bound = records.withAbort(signal, async (prepared) => {
      understood.last = prepared;
      noteBounds(response, boundsOf(prepared));
      if (call.kind !== "export" && !isAbout) await mustBeFound(prepared, maxScanned);
    });
    const run = planned((again: Received<Name>) => handler(again, bound));
    return admission
      .run(call, signal, async () => {
        const begun = performance.now();
        try {
          return await run(received);
        } finally {
          if (understood.last !== undefined && call.kind !== "export") {
            demand.note(understood.last, performance.now() - begun);
          }
        }
      })
      .catch((error: unknown) => {
        const { last } = understood;
        throw error instanceof TooSlow && last !== undefined ? tooSlow(last) : error;
      });
  };
}

/** Parameters whose values change what a call costs; of all others it counts only that they are sent. */
const COSTLY = new Set(["total", "with", "unit", "by", "rows"]);

function costKeyOf(request: Request): string {
  const { path } = request.route as { readonly path: string };
  const sent = [...sentParameters(request.originalUrl)];
  const names = sent.map(([name, values]) =>
    COSTLY.has(name) ? `${name}=${values.join()}` : name,
  );
  return `${request.method} ${path} ${names.sort().join("&")}`;
}

/** The calls that take the parameters of a listing. */
type ListingCall = {
  [Name in keyof Calls]: Calls[Name] extends { readonly takesParameters: true } ? Name : never;
}[keyof Calls];

/** The listing, what was sent for it, and who sent it. */
function requested(listings: Listings, { path, caller, request }: Received<ListingCall>) {
  return [listings.need(path.name, caller), sentParameters(request.originalUrl), caller] as const;
}

/** Pages and exports of records, in a URL and in a body, and one record by its id. */
function addRecords(answering: Answering): void {
  const { router, listings, recent, now } = answering;
  const answer = async (
    { request, response }: { readonly request: Request; readonly response: Response },
    records: Records,
    prepared: PreparedRequest,
    suffix?: Format,
  ) => {
    const { listing, planned: plan, caller } = prepared;
    recent.note(caller, listing.declaration.name, plan);
    listings.lastUses.note(listing.declaration.name);
    const format = prepared.envelope.format ?? suffix ?? acceptedFormat(request);
    const own = ownEndpointOf(response);
    if (prepared.envelope.resume !== null) mustBePlain(format, own);
    response.vary(VARIES);
    if (format === "ics" || format === "atom") {
      await sendFeed({ request, response, format, self: request.originalUrl }, prepared, records);
    } else if (format !== "json" && request.method === "HEAD") {
      response.set("Content-Type", MEDIA_TYPES[format]).end();
    } else if (format === "json") {
      const readAt = now();
      const page = await records.run(prepared);
      noteForAudit(response, { total: page.meta.total, records: page.records.length });
      if (own !== null) sendOwn({ request, response, own }, page, prepared);
      else sendPage(request, response, page, prepared.maxAgeMs, readAt);
    } else await sendExport(response, format, prepared, records);
    return SENT;
  };

  route(
    router,
    "GET /v1/listings/{name}/records",
    reading(answering, pageOr(), async (received, records) => {
      const wanted = requested(listings, received);
      const faults = ownEndpointOf(received.response)?.faults ?? [];
      const prepared = await records.prepare(...wanted).catch((error: unknown) => {
        if (!(error instanceof Problem) || error.problem !== "invalid-value") throw error;
        throw problemOf([...faults, ...error.faults]);
      });
      if (faults.length > 0) throw problemOf(faults);
      return answer(received, records, prepared);
    }),
  );

  for (const format of FORMATS) {
    route(
      router,
      `GET /v1/listings/{name}/records.${format}`,
      reading(answering, pageOr(format), async (received, records) =>
        answer(received, records, await records.prepare(...requested(listings, received)), format),
      ),
    );
  }

  route(
    router,
    "POST /v1/listings/{name}/records/query",
    reading(answering, "page", async (received, records) => {
      const { path, body, caller, request } = received;
      // A link of the answer is followed with the same body: it says which page.
      const places = [...sentParameters(request.originalUrl)].filter(
        ([name]) => name === "cursor" || name === "page" || name === "resume",
      );
      const sent = new Map([...sentOf(body), ...places]);
      const listing = listings.need(path.name, caller);
      return answer(received, records, await records.prepare(listing, sent, caller));
    }),
  );

  route(
    router,
    "GET /v1/listings/{name}/records/{id}",
    reading(answering, "page", async (received, records) => {
      const { id } = received.path;
      const prepared = await records.prepare(...requested(listings, received));
      const { listing } = prepared;
      // Before the record: what changes in between is then no longer as it was read.
      const tag = isEditable(listing, received.caller) ? await records.tagOf(listing, id) : null;
      const found = await records.one(prepared, id);
      if (found === null) throw new Problem("not-found", `The listing has no record ${id}`);
      return tag === null ? sendTagged(received, found) : sendEditable(received, found, tag);
    }),
  );
}

/** Only a page of JSON in the service's own form says where to go on. */
function mustBePlain(format: Format, own: OwnEndpoint | null): void {
  const name = own !== null ? own.endpoint.path : `records.${format}`;
  if (own !== null || format !== "json") {
    throw problemOf([fault("resume.beside", { name }, { parameter: "resume" })]);
  }
}

/** Whether a caller may change the records of a listing. */
function isEditable({ declaration }: ServedListing, caller: Caller): boolean {
  const { editable, actions } = changeRights(caller, declaration);
  return editable.length > 0 || actions.length > 0;
}

/** Sends records as a calendar or a feed, which may be held until the window moves, and a quarter of an hour. */
export async function sendFeed(
  to: {
    readonly request: Request;
    readonly response: Response;
    readonly format: "ics" | "atom";
    /** Its own address. */
    readonly self: string;
  },
  prepared: PreparedRequest,
  records: Records,
): Promise<number> {
  const { request, response, format, self } = to;
  if (prepared.envelope.columns !== null) {
    throw new Problem("invalid-value", "A calendar or feed has columns of its own: omit columns");
  }
  const found = await feedRecords(prepared, records);
  const text = format === "ics" ? calendarText(prepared, found) : atomText(prepared, found, self);
  const maxAgeS = Math.floor(Math.min(LOOK_AGAIN_S, prepared.untilChangeMs / 1_000));
  noteForAudit(response, { format, records: found.length });
  sendText(request, response, { text, type: MEDIA_TYPES[format], maxAgeS });
  return found.length;
}

/** A page, or an export where another format than JSON is requested. */
function pageOr(suffix?: Format) {
  return ({ request }: { readonly request: Request }): CostClass => {
    const [named] = sentParameters(request.originalUrl).get("format") ?? [];
    const format = named ?? suffix ?? acceptedFormat(request);
    return format === "json" || format === "ics" || format === "atom" ? "page" : "export";
  };
}

/** What an interface needs around the records: choices, extents, timeline, summary, explanations. */
function addAround(answering: Answering): void {
  const { router, listings, recent } = answering;
  route(
    router,
    "GET /v1/listings/{name}/choices/{column}",
    reading(answering, "heavy", async (received, records) => {
      const [listing, sent, caller] = requested(listings, received);
      const { column } = received.path;
      return sendTagged(received, await choices(records, listing, column, sent, caller, recent));
    }),
  );

  route(
    router,
    "GET /v1/listings/{name}/extent",
    reading(answering, "heavy", async (received, records) => {
      const prepared = await records.prepare(...requested(listings, received));
      return sendTagged(received, await inSnapshot(prepared, extent));
    }),
  );

  route(
    router,
    "GET /v1/listings/{name}/timeline",
    reading(answering, "heavy", async (received, records) =>
      sendTagged(received, await timeline(records, ...requested(listings, received))),
    ),
  );

  route(
    router,
    "GET /v1/listings/{name}/summary",
    reading(answering, "heavy", async (received, records) =>
      sendTagged(received, await summary(records, ...requested(listings, received))),
    ),
  );

  const why = async (
    received: Received<"GET /v1/listings/{name}/why" | "GET /v1/listings/{name}/why/{id}">,
    records: Records,
    id: string | null,
  ) => {
    const prepared = await records.prepare(...requested(listings, received));
    return sendTagged(received, await records.why(prepared, id));
  };
  route(
    router,
    "GET /v1/listings/{name}/why",
    reading(answering, "heavy", (received, records) => why(received, records, null), true),
  );
  route(
    router,
    "GET /v1/listings/{name}/why/{id}",
    reading(
      answering,
      "heavy",
      (received, records) => why(received, records, received.path.id),
      true,
    ),
  );

  route(
    router,
    "GET /v1/listings/{name}/explain",
    reading(
      answering,
      "heavy",
      async (received, records) =>
        records.explain(await records.prepare(...requested(listings, received))),
      true,
    ),
  );
}

/** A declaration beside the one that serves, and several requests beside one another. */
function addComparisons(answering: Answering): void {
  const { router, listings, now } = answering;
  route(
    router,
    "POST /v1/listings/{name}/check",
    reading(answering, "heavy", async ({ path, body, caller }, records) => {
      const trial = listings.trial(path.name, declarationOf(path.name, body));
      const uses = await listings.usesOf(path.name);
      const found = await difference(records, trial, caller, epochMs(now()), uses);
      return { ...found, breaks: [...found.breaks, ...listings.unfitOverrides(trial)] };
    }),
  );
  route(
    router,
    "POST /v1/listings/{name}/check/records",
    reading(answering, "heavy", async ({ path, body, caller, request, response }, records) => {
      const { after } = listings.trial(path.name, declarationOf(path.name, body));
      const sent = sentParameters(request.originalUrl);
      const readAt = now();
      const page = await records.run(await records.prepare(after, sent, caller));
      noteForAudit(response, { total: page.meta.total, records: page.records.length });
      // A link of the answer is followed with the same declaration.
      sendPage(request, response, page, 0, readAt);
      return SENT;
    }),
  );
  route(
    router,
    "POST /v1/listings/{name}/compare",
    reading(answering, "heavy", ({ path, body, caller }, records) =>
      compare(records, listings.need(path.name, caller), body, caller),
    ),
  );
  route(
    router,
    "POST /v1/listings/{name}/counts",
    reading(answering, "heavy", ({ path, body, caller }, records) =>
      counts(records, listings.need(path.name, caller), body, caller),
    ),
  );
}
