import type {
  Answer,
  Calls,
  FileContent,
  PathParameters,
  SentBody,
  SentQuery,
} from "@orisma/contract";
import { OrismaError, problemFrom } from "./error.js";
import type { QueryParameters } from "./typed.js";

/** The content of a file: text, bytes, or a stream of them. */
export type FileBody = string | Uint8Array<ArrayBuffer> | Blob | ReadableStream;

export interface ClientOptions {
  /** Where the service is, such as `http://127.0.0.1:4410`; empty for the page's own origin. */
  readonly url: string;
  /** A bearer key; not given in the console, which has a session's cookie. */
  readonly key?: string;
  /** The token that a session's writes must show. */
  readonly csrf?: () => string | null;
  /** Told of every failure before it is thrown, such as to ask who is there once a session has ended. */
  readonly onFailure?: (error: OrismaError) => void;
}

/** The name of a call: its method and its path. */
export type ClientCall = keyof Calls;

/** What a call takes: the parameters of its path and of its URL, and its body. */
export type CallInput<Name extends ClientCall> = PathInput<Name> &
  BodyInput<Calls[Name]> & {
    readonly query?: SentQuery<Calls[Name]> &
      (Calls[Name] extends { readonly takesParameters: true } ? QueryParameters : unknown);
    readonly signal?: AbortSignal | undefined;
    /** A media type other than JSON. */
    readonly accept?: string;
    /** The ETag of what is changed, or `*` whatever it is. */
    readonly ifMatch?: string;
  };

type PathInput<Name extends ClientCall> =
  unknown extends PathParameters<Name>
    ? unknown
    : { readonly path: { readonly [P in keyof PathParameters<Name>]: string | number } };

type BodyInput<C extends Calls[ClientCall]> = C extends { readonly body: FileContent }
  ? { readonly file: FileBody }
  : SentBody<C> extends undefined
    ? unknown
    : { readonly body: SentBody<C> };

/** The same of whatever call. */
interface AnyInput {
  readonly path?: Readonly<Record<string, string | number>>;
  readonly query?: object;
  readonly body?: unknown;
  readonly file?: FileBody;
  readonly signal?: AbortSignal | undefined;
  readonly accept?: string;
  readonly ifMatch?: string;
}

/** The calls that change nothing although they are sent as POST: complete by its type. */
const READS: Readonly<Record<ReadCall, true>> = {
  "POST /v1/dates/read": true,
  "POST /v1/filters/translate": true,
  "POST /v1/listings/{name}/check": true,
  "POST /v1/listings/{name}/check/records": true,
  "POST /v1/listings/{name}/compare": true,
  "POST /v1/listings/{name}/counts": true,
  "POST /v1/listings/{name}/records/query": true,
  "POST /v1/sources/{name}/readings/preview": true,
  "POST /v1/windows/resolve": true,
};
type ReadCall = {
  [Name in ClientCall]: Calls[Name] extends { readonly isRead: true } ? Name : never;
}[ClientCall];

/**
 * Sends the calls of the contract on the runtime's own `fetch`. Every one fails with an
 * {@link OrismaError}: with the service's problem document, or with status 0 where the service could
 * not be reached.
 */
export class Transport {
  constructor(private readonly options: ClientOptions) {}

  /** Makes a call, and returns what it answers. */
  async call<Name extends ClientCall>(
    name: Name,
    input: CallInput<Name>,
  ): Promise<Answer<Calls[Name]>> {
    const response = await this.respond(name, input);
    // Nothing, or that what was to be deleted is gone.
    if (response.status === 204 || !response.ok) return undefined as Answer<Calls[Name]>;
    return this.#json(response);
  }

  /** Makes a call, and returns its response, which succeeded. */
  respond<Name extends ClientCall>(name: Name, input: CallInput<Name>): Promise<Response> {
    const [method = "GET", path = ""] = name.split(" ");
    const { path: parameters = {}, query = {}, ...rest } = input as AnyInput;
    const filled = path.replace(/\{(\w+)\}/g, (_, each: string) =>
      encodeURIComponent(parameters[each] ?? ""),
    );
    const isRead = name in READS;
    return this.#request({ method, url: filled + queryText(query), isRead, ...rest });
  }

  /** What is at a link of an earlier answer. */
  async follow<T>(link: string, signal?: AbortSignal): Promise<T> {
    return this.#json(await this.#request({ method: "GET", url: link, isRead: true, signal }));
  }

  async #json<T>(response: Response): Promise<T> {
    try {
      return (await response.json()) as T;
    } catch (error) {
      if (isAbort(error)) throw error;
      const message = `the answer from ${this.options.url} ended before it was whole`;
      throw this.#noted(new OrismaError(message, 0, null, { cause: error }));
    }
  }

  #noted(error: OrismaError): OrismaError {
    this.options.onFailure?.(error);
    return error;
  }

  /**
   * Sends a request, and once more where its connection was lost before an answer came: a service may
   * close one that was idle just when it is used. A call that would do something twice is not sent
   * again.
   */
  async #request(request: ClientRequest): Promise<Response> {
    const { response, isAgain } = await this.#sent(request).catch((error: unknown) => {
      if (isAbort(error)) throw error;
      const message = `no answer from ${this.options.url}`;
      throw this.#noted(new OrismaError(message, 0, null, { cause: error }));
    });
    if (response.ok) return response;
    // What was to be deleted is gone: the first request did it, and only its answer was lost.
    if (isAgain && request.method === "DELETE" && response.status === 404) return response;
    const problem = await problemFrom(response);
    const message = problem?.detail ?? response.statusText;
    throw this.#noted(new OrismaError(message, response.status, problem));
  }

  /** The answer, and whether it is that to a second request. */
  async #sent(request: ClientRequest): Promise<{ response: Response; isAgain: boolean }> {
    try {
      return { response: await this.#send(request), isAgain: false };
    } catch (error) {
      if (!mayRepeat(request) || !isLost(error)) throw error;
      return { response: await this.#send(request), isAgain: true };
    }
  }

  #send(request: ClientRequest): Promise<Response> {
    const { method, url, body: json, file, accept = "application/json", signal, ifMatch } = request;
    const headers: Record<string, string> = { Accept: accept };
    if (this.options.key !== undefined) headers.Authorization = `Bearer ${this.options.key}`;
    const csrf = method === "GET" ? null : (this.options.csrf?.() ?? null);
    if (csrf !== null) headers["X-CSRF-Token"] = csrf;
    if (json !== undefined) headers["Content-Type"] = "application/json";
    if (ifMatch !== undefined) headers["If-Match"] = ifMatch;
    if (file !== undefined) headers["Content-Type"] = "application/octet-stream";
    const body = json === undefined ? file : JSON.stringify(json);
    return fetch(`${this.options.url}${url}`, {
      method,
      headers,
      ...(body === undefined ? {} : { body, duplex: "half" }),
      ...(signal === undefined ? {} : { signal }),
    });
  }
}

interface ClientRequest extends Pick<AnyInput, "body" | "file" | "accept" | "signal" | "ifMatch"> {
  readonly method: string;
  readonly url: string;
  readonly isRead: boolean;
}

/** Whether a request does no more when it is sent twice (RFC 9110, section 9.2.2); a file is read once. */
function mayRepeat({ method, isRead, file }: ClientRequest): boolean {
  return file === undefined && (isRead || ["GET", "PUT", "DELETE"].includes(method));
}

/** The codes of a connection that was there and is no more. */
const LOST: ReadonlySet<unknown> = new Set(["ECONNRESET", "EPIPE", "UND_ERR_SOCKET"]);

// Errors of the runtime's own fetch may be of another realm, where they are no instances of Error.
function isLost(error: unknown): boolean {
  return LOST.has(detailOf(detailOf(error, "cause"), "code"));
}

function isAbort(error: unknown): boolean {
  return detailOf(error, "name") === "AbortError";
}

function detailOf(error: unknown, name: "cause" | "code" | "name"): unknown {
  if (typeof error !== "object" || error === null) return undefined;
  return (error as Partial<Record<typeof name, unknown>>)[name];
}

/** Values as the parameters of a URL; a list is repeated, and what is undefined is not sent. */
function queryText(values: object): string {
  const query = new URLSearchParams();
  for (const [name, strings] of Object.entries(stringsOf(values))) {
    for (const text of typeof strings === "string" ? [strings] : strings) query.append(name, text);
  }
  const text = query.toString();
  return text === "" ? "" : `?${text}`;
}

/** Parameters as strings, which is how the service takes them. */
export function stringsOf(values: object): Readonly<Record<string, string | readonly string[]>> {
  const strings = Object.entries(values).flatMap(([name, value]: [string, unknown]) => {
    if (value === undefined) return [];
    return [[name, Array.isArray(value) ? value.map(textOfValue) : textOfValue(value)] as const];
  });
  return Object.fromEntries(strings);
}

function textOfValue(value: unknown): string {
  return value === true ? "yes" : value === false ? "no" : String(value);
}
