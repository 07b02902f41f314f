import {
  CALLS,
  type Answer,
  type Call,
  type Calls,
  type PathParameters,
  type ReadBody,
  type ReadQuery,
} from "@orisma/contract";
import { fault } from "@orisma/core/internal";
import express, { type Request, type RequestHandler, type Response, type Router } from "express";
import { parseDocument, visit } from "yaml";
import { z } from "zod";
import { planAgain } from "../database/index.js";
import { mayHoldHalves, mustHaveCharacters } from "./characters.js";
import { callerWith } from "./caller.js";
import { contextOf, pathParameter, type Caller } from "./context.js";
import { parse, withoutOptional } from "./parse.js";
import { Problem, problemOf } from "./problem.js";
import { sentParameters } from "./query.js";

/** A call as its handler gets it: checked by the schemas of the contract. */
export interface Received<Name extends keyof Calls> {
  readonly path: PathParameters<Name>;
  readonly query: ReadQuery<Calls[Name]>;
  readonly body: ReadBody<Calls[Name]>;
  readonly caller: Calls[Name]["role"] extends null ? Caller | null : Caller;
  readonly request: Request;
  readonly response: Response;
}

/** What a handler returns that has sent its answer itself. */
class Sent {
  readonly isSent = true;
}
export const SENT = new Sent();

export type Returned<Name extends keyof Calls> = AnswerOrNothing<Answer<Calls[Name]>> | Sent;
// eslint-disable-next-line @typescript-eslint/no-invalid-void-type -- a handler with nothing to return
type AnswerOrNothing<A> = A extends undefined ? void : A;
type Handler<Name extends keyof Calls> = (
  received: Received<Name>,
) => Returned<Name> | Promise<Returned<Name>>;

/** What a route needs beside its handler. */
interface RouteOptions {
  /** Runs before a JSON body is read: to read one of another kind, or to count attempts. */
  readonly before: RequestHandler;
}

/** Bytes of a JSON body at most, where the call does not say. */
const LARGEST_BODY = "1mb";
/** Bytes of a YAML body: what it costs to read is many times that of JSON. */
const LARGEST_YAML = "64kb";

/**
 * Serves a call of the contract. The caller's role is checked first, then the URL and the body are
 * read; what the handler returns is sent as JSON.
 */
export function route<Name extends keyof Calls>(
  router: Router,
  name: Name,
  ...given: [Handler<Name>] | [RouteOptions, Handler<Name>]
): void {
  const [options, handler] = given.length === 1 ? [null, given[0]] : given;
  const call: Call = CALLS[name];
  const [method = "", path = ""] = name.split(" ");
  const parameters = [...path.matchAll(/\{(\w+)\}/g)].map(([, each = ""]) => each);
  const schema = call.body === undefined || "media" in call.body ? null : call.body;

  const checkRole: RequestHandler = (_request, response, next) => {
    if (call.role !== null) callerWith(call.role, response);
    next();
  };
  const answer: RequestHandler = async (request, response) => {
    if ((request as Request & Halves).mayHoldHalves === true) mustHaveCharacters(request.body);
    const received = {
      path: Object.fromEntries(parameters.map((each) => [each, pathParameter(request, each)])),
      query: call.query === undefined || call.takesParameters ? {} : queryOf(request, call.query),
      body: schema === null ? undefined : parse(schema, request.body),
      caller: contextOf(response).caller,
      request,
      response,
    };
    // The types of the contract hold by the checks above.
    const returned = await handler(received as unknown as Received<Name>);
    if (returned === SENT) return;
    if (call.answer === null) response.status(204).end();
    else {
      if (call.status !== undefined) response.status(call.status);
      response.json(returned);
    }
  };
  const readers = options === null ? [] : [options.before];
  const limit = call.largestBody ?? LARGEST_BODY;
  if (schema !== null) {
    readers.push(mustBe(call.acceptsYaml === true ? [...JSON_MEDIA, ...YAML_MEDIA] : JSON_MEDIA));
  }
  if (call.acceptsYaml === true) readers.push(readYamlText(LARGEST_YAML), readYaml);
  if (schema !== null) readers.push(readJson(limit));
  const verb = method.toLowerCase() as "get" | "post" | "put" | "patch" | "delete";
  router.route(path.replace(/\{(\w+)\}/g, ":$1"))[verb](checkRole, ...readers, answer);
}

/** RFC 9512, and the names that were usual before it. */
const YAML_MEDIA = ["application/yaml", "text/yaml", "application/x-yaml", "text/x-yaml"];

function readYamlText(limit: string): RequestHandler {
  return express.text({ limit, type: YAML_MEDIA });
}

/** Reads a body that came as YAML into what JSON would have been; 400 with the place of what is wrong. */
const readYaml: RequestHandler = (request, _response, next) => {
  const body: unknown = request.body;
  if (typeof body === "string") {
    request.body = contentOf(body);
    mustHaveCharacters(request.body);
  }
  next();
};

function contentOf(yaml: string): unknown {
  checkNesting(yaml);
  // The library compares each key with all others; here each is looked up.
  const document = parseDocument(yaml, { uniqueKeys: false });
  const [error] = document.errors;
  if (error !== undefined) throw unreadableYaml(error);
  visit(document, {
    Map(_key, { items }) {
      const names = new Set<string>();
      for (const { key } of items) {
        const name = String(key);
        if (names.has(name)) throw unreadableYaml(new Error(`the key “${name}” stands twice`));
        names.add(name);
      }
    },
  });
  try {
    return document.toJS({ maxAliasCount: MAX_ALIASES });
  } catch (excessive) {
    throw unreadableYaml(excessive);
  }
}

/** Collections inside one another at most; brackets in quotes count too. */
const MAX_NESTING = 100;

function checkNesting(yaml: string): void {
  const tooDeep = () => unreadableYaml(new Error(`it is nested more than ${MAX_NESTING} deep`));
  // A line can open as many lists as it has dashes; deeper ones by indentation take a line each.
  for (const [dashes] of yaml.matchAll(/^[ ]*(?:[-?][ \t]+){100,}/gm)) {
    if (dashes.replace(/\s/g, "").length > MAX_NESTING) throw tooDeep();
  }
  let depth = 0;
  for (const [bracket] of yaml.matchAll(/[[\]{}]/g)) {
    depth = bracket === "[" || bracket === "{" ? depth + 1 : Math.max(0, depth - 1);
    if (depth > MAX_NESTING) throw tooDeep();
  }
}

/** Aliases of a document at most: each may stand for all that others stand for. */
const MAX_ALIASES = 100;

function unreadableYaml(error: unknown): Problem {
  const [line = ""] = String(error instanceof Error ? error.message : error).split("\n");
  return new Problem("unreadable-request", `The YAML cannot be read: ${line.replace(/:$/, "")}`);
}

function readJson(limit: string): RequestHandler {
  return express.json({
    limit,
    strict: true,
    verify: (request, _response, body) => {
      (request as Request & Halves).mayHoldHalves = mayHoldHalves(body);
    },
  });
}

/** What is known of a body before it is read. */
interface Halves {
  mayHoldHalves?: boolean;
}

/** Refuses a body of another media type (415): as no body at all it would be misunderstood. */
function mustBe(media: readonly string[]): RequestHandler {
  return (request, _response, next) => {
    const { "content-length": length, "transfer-encoding": coding } = request.headers;
    const isThere = coding !== undefined || Number(length ?? 0) > 0;
    if (isThere && request.is([...media]) === false) {
      throw new Problem("unsupported-media", `The body is read as ${media.join(", ")} only`);
    }
    next();
  };
}

const JSON_MEDIA = ["application/json"];

/** The parameters of a URL under a schema: none that it does not have, and repeated only as a list. */
function queryOf(request: Request, schema: z.ZodObject): unknown {
  const known = Object.keys(schema.shape);
  const sent = [...sentParameters(request.originalUrl)];
  const faults = sent.flatMap(([name, values]) => {
    const place = { parameter: name };
    if (!known.includes(name)) return [fault("parameter.unknown", { name, known }, place)];
    if (values.length === 1 || isList(schema, name)) return [];
    return [fault("parameter.repeated", { name, times: values.length }, place)];
  });
  if (faults.length > 0) throw problemOf(faults);
  const values = sent.map(([name, each]) => [name, isList(schema, name) ? each : each[0]]);
  return parse(schema, Object.fromEntries(values));
}

function isList(schema: z.ZodObject, name: string): boolean {
  return withoutOptional(schema.shape[name] as z.ZodType).some(
    (each) => each instanceof z.ZodArray,
  );
}

/** A handler that reads records: it begins again where their table was replaced in the meantime. */
export function planned<Name extends keyof Calls>(
  handler: (received: Received<Name>) => Promise<Returned<Name>>,
): (received: Received<Name>) => Promise<Returned<Name>> {
  return (received) =>
    planAgain(
      () => handler(received),
      () => !received.response.headersSent,
    );
}
