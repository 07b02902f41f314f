import { renderFault } from "@orisma/core/internal";
import { Router } from "express";
import type { Admission } from "../admission/index.js";
import {
  Problem,
  SENT,
  disconnectedSignal,
  planned,
  route,
  sentParameters,
} from "../http/index.js";
import { publicCaller, publicLimit, type Listings } from "../listings/index.js";
import { sendText, type Records } from "../records/index.js";
import { listingPage, type ShownListing } from "./listing-page.js";

/** Seconds for which a page may be held where its listing does not say. */
const HELD_S = 60;

/** The pages of public listings. */
export function pageRoutes(listings: Listings, records: Records, admission: Admission): Router {
  const router = Router();
  router.use("/public", publicLimit());

  route(router, "GET /public/{name}", async (received) => {
    const { path, request, response } = received;
    const now = listings.nameNow(path.name);
    if (now !== null && listings.isPublic(now)) {
      const [, query] = request.originalUrl.split("?", 2);
      const rest = query === undefined ? "" : `?${query}`;
      response.redirect(308, `/public/${encodeURIComponent(now)}${rest}`);
      return SENT;
    }
    if (!listings.isPublic(path.name)) {
      throw new Problem("not-found", `There is no public listing ${path.name}`);
    }
    const signal = disconnectedSignal(response);
    const caller = publicCaller(path.name);
    const serve = planned(async () => {
      const listing = listings.need(path.name, caller);
      const sent = sentParameters(request.originalUrl);
      const bound = records.withAbort(signal);
      const shown: ShownListing = await bound
        .prepare(listing, withDisplay(sent), caller)
        .then(async (prepared) => {
          const page = await bound.run(prepared);
          return { listing, sent, found: { prepared, page }, refused: [] };
        })
        .catch((error: unknown) => {
          if (!(error instanceof Problem) || error.faults.length === 0) throw error;
          const refused = error.faults.map((each) => renderFault(each).message);
          return { listing, sent, found: null, refused };
        });
      if (shown.refused.length > 0) response.status(422);
      const untilMs = shown.found?.prepared.untilChangeMs ?? 0;
      const maxAgeS = Math.floor(Math.min(HELD_S, untilMs / 1_000));
      const text = listingPage(shown);
      sendText(request, response, {
        text,
        type: "text/html; charset=utf-8",
        maxAgeS,
        isPublic: true,
      });
    });
    const call = {
      kind: "page",
      caller: caller.id,
      listing: path.name,
      costKey: "public",
    } as const;
    await admission.run(call, signal, () => serve(received));
    return SENT;
  });

  return router;
}

/** Values as people see them, beside what else is sent. */
function withDisplay(sent: ReturnType<typeof sentParameters>): ReturnType<typeof sentParameters> {
  const others = (sent.get("with") ?? []).filter((each) => each !== "why" && each !== "display");
  return new Map([...sent, ["with", [...others, "display"]]]);
}
