import { createHash } from "node:crypto";
import type { Answer, Calls } from "@orisma/contract";
import { FORMATS, endpointAnswer, type Format, type RecordAnswer } from "@orisma/core/internal";
import type { Request, Response } from "express";
import { PUBLIC_ROLE, SENT, contextOf, type Received } from "../http/index.js";
import type { OwnEndpoint } from "../listings/index.js";
import { MEDIA_TYPES } from "./export.js";
import type { PreparedRequest } from "./prepared.js";
import type { RecordsPage } from "./service.js";

/** The format that a caller prefers (RFC 9110, section 12.5.1); JSON by default. */
export function acceptedFormat(request: Request): Format {
  const accepted = request.accepts(
    FORMATS.map((format) => MEDIA_TYPES[format].split(";")[0] ?? ""),
  );
  return FORMATS.find((format) => MEDIA_TYPES[format].split(";")[0] === accepted) ?? "json";
}

/**
 * Sends a page with its links (RFC 8288) and an ETag (RFC 9110, section 8.8.3) of everything
 * but the passing of time, so that it changes only when the answer does.
 */
export function sendPage(
  request: Request,
  response: Response,
  page: RecordsPage,
  maxAgeMs: number,
  readAt: number,
): void {
  const links = linksOf(request, page);
  const records = JSON.stringify(page.records);
  const meta = JSON.stringify(page.meta);
  const linked = JSON.stringify(links);
  const steady = page.steady === page.meta ? meta : JSON.stringify(page.steady);
  const hash = createHash("sha1")
    .update(records)
    .update(steady)
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
  const seconds = request.method === "POST" ? 0 : Math.floor(maxAgeMs / 1_000);
  if (isAnswered(request, response, hash, seconds)) return;
  const metaWithTime = `${meta.slice(0, -1)},"readAt":"${new Date(readAt).toISOString()}"}`;
  sendJson(response, `{"records":${records},"meta":${metaWithTime},"links":${linked}}`);
}

/** Sends a page in the shape that an endpoint of the listing's own declares, with links to the pages beside it. */
export function sendOwn(
  {
    request,
    response,
    own,
  }: { readonly request: Request; readonly response: Response; readonly own: OwnEndpoint },
  { records, meta, next, previous, numbered }: RecordsPage,
  { envelope, maxAgeMs }: PreparedRequest,
): void {
  const { paging = {} } = own.endpoint;
  const beside = (step: 1 | -1): string | null => {
    const { offset, size } = envelope;
    const number = step > 0 ? numbered?.next : numbered?.previous;
    if (paging.offset !== undefined && offset !== null) {
      const isThere = step > 0 ? number !== null : offset > 0;
      const from = String(Math.max(0, offset + step * size));
      return isThere ? linkWith(own.url, paging.offset, from) : null;
    }
    if (paging.page !== undefined && number !== undefined) {
      return number === null ? null : linkWith(own.url, paging.page, String(number));
    }
    const cursor = step > 0 ? next : previous;
    return cursor === null ? null : linkWith(own.url, "cursor", cursor);
  };
  const links = { next: beside(1), previous: beside(-1) };
  const answer = endpointAnswer(own.endpoint, {
    records,
    total: meta.total,
    totalExact: meta.totalExact,
    ...links,
    sentence: meta.sentence,
    notices: meta.notices.map(({ message }) => message),
  });
  const body = JSON.stringify(answer);
  const link = Object.entries(links).flatMap(([relation, target]) =>
    target === null ? [] : [`<${target}>; rel="${relation === "previous" ? "prev" : relation}"`],
  );
  if (link.length > 0) response.set("Link", link.join(", "));
  const hash = createHash("sha1").update(body).update(own.url).digest("base64url");
  if (!isAnswered(request, response, hash, Math.floor(maxAgeMs / 1_000))) sendJson(response, body);
}

function linkWith(url: string, name: string, value: string): string {
  const [path = "", query = ""] = url.split("?", 2);
  const parameters = new URLSearchParams(query);
  parameters.set(name, value);
  return `${path}?${parameters.toString()}`;
}

/** Sets what a cache has to know; answers with 304 to a caller that holds the answer. */
function isAnswered(
  request: Request,
  response: Response,
  hash: string,
  maxAgeSeconds: number,
  isPublic = false,
): boolean {
  // Weak, since the same answer may be sent compressed.
  const etag = `W/"${hash}"`;
  const held = maxAgeSeconds === 0 ? "no-cache" : `max-age=${maxAgeSeconds}`;
  const isForAll = isPublic || contextOf(response).caller?.id === PUBLIC_ROLE;
  response.set("Cache-Control", `${isForAll ? "public" : "private"}, ${held}`).set("ETag", etag);
  if (!isHeld(etag, request.headers["if-none-match"])) return false;
  response.status(304).end();
  return true;
}

/** A document in another format than JSON. */
interface TextAnswer {
  readonly text: string;
  readonly type: string;
  readonly maxAgeS: number;
  /** Whether caches that others share may hold it; by default where nobody needs a key to read it. */
  readonly isPublic?: boolean;
}

/** Sends a document in another format, with an ETag of all of it; to a caller that holds it only that it does. */
export function sendText(
  request: Request,
  response: Response,
  { text, type, maxAgeS, isPublic = false }: TextAnswer,
): void {
  const hash = createHash("sha1").update(text).digest("base64url");
  if (isAnswered(request, response, hash, maxAgeS, isPublic)) return;
  response.type(type).send(text);
}

/** Sends an answer with an ETag of all of it. */
export function sendTagged<Name extends keyof Calls>(
  { request, response }: Received<Name>,
  answer: Answer<Calls[Name]>,
): typeof SENT {
  const body = JSON.stringify(answer);
  const hash = createHash("sha1").update(body).update(request.originalUrl).digest("base64url");
  response.vary(VARIES);
  if (!isAnswered(request, response, hash, 0)) sendJson(response, body);
  return SENT;
}

/**
 * Sends a record that can be edited, with a strong ETag of all of it, which ends with the tag of its cells
 * (RFC 9110, section 8.8.1): it is not compressed, so that there is one form of it.
 */
export function sendEditable(
  { request, response }: Received<"GET /v1/listings/{name}/records/{id}">,
  record: RecordAnswer,
  tag: string,
): typeof SENT {
  const body = JSON.stringify(record);
  const hash = createHash("sha1").update(body).update(request.originalUrl).digest("base64url");
  response.vary(VARIES);
  response.set("Cache-Control", "private, no-cache, no-transform");
  const etag = `"${hash}.${tag}"`;
  response.set("ETag", etag);
  if (isHeld(etag, request.headers["if-none-match"])) response.status(304).end();
  else sendJson(response, body);
  return SENT;
}

/** Sends a document that is written already. */
function sendJson(response: Response, body: string): void {
  response.setHeader("Content-Type", "application/json; charset=utf-8");
  response.setHeader("Content-Length", Buffer.byteLength(body));
  // As a text it goes out with the headers in one write.
  response.end(body);
}

/** What an answer depends on beside its address (RFC 9110, section 12.5.5). */
export const VARIES = "Accept, Authorization, Cookie, Accept-Encoding";

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
  { next, previous, numbered, meta }: RecordsPage,
): Record<string, string> {
  const [path = "", query = ""] = request.originalUrl.split("?", 2);
  const parameters = new URLSearchParams(query);
  const { resume } = meta;
  const name = resume !== undefined ? "resume" : numbered === null ? "cursor" : "page";
  parameters.delete(name);
  const linkTo = (place: string | number | null) => {
    const target = new URLSearchParams(parameters);
    if (place !== null) target.set(name, String(place));
    const text = target.toString();
    return text === "" ? path : `${path}?${text}`;
  };
  if (resume !== undefined) {
    return { first: linkTo("start"), ...(resume.hasMore ? { next: linkTo(resume.token) } : {}) };
  }
  const beside = numbered ?? { next, previous };
  return {
    // Without its number the first page would go on by cursors.
    first: linkTo(numbered === null ? null : 1),
    ...(beside.next === null ? {} : { next: linkTo(beside.next) }),
    ...(beside.previous === null ? {} : { previous: linkTo(beside.previous) }),
  };
}
