import type { Explanation, ReadAnswer, Reading, RecordsAnswer, SourceProfile } from "@orisma/core";
import { OrismaError, problemFrom } from "./error.js";
import type {
  KeyDescription,
  ListingDescription,
  ListingDetails,
  LoadReport,
  NewListing,
  NewSource,
  Role,
  SourceDescription,
} from "./shapes.js";

/** Parameters of a listing, by name; undefined ones are not sent, a list is sent repeated. */
export type QueryParameters = Readonly<Record<string, string | readonly string[] | undefined>>;

export interface ClientOptions {
  /** Where the service is, such as `http://127.0.0.1:4410`; empty for the page's own origin. */
  readonly url: string;
  /** A bearer key; left out in the console, which has a session's cookie. */
  readonly key?: string;
  /** The token that a session's writes must show. */
  readonly csrf?: () => string | null;
}

interface Call {
  readonly method?: "GET" | "POST" | "PUT" | "DELETE";
  readonly json?: unknown;
  readonly file?: BodyInit;
  readonly signal?: AbortSignal | undefined;
}

/**
 * A client of the Orisma service, for Node.js and browsers, on the runtime's own `fetch`.
 *
 * Every call fails with an {@link OrismaError}: one that carries the service's problem
 * document, or one with status 0 where the service could not be reached.
 *
 * @example
 * const orisma = new OrismaClient({ url: "http://127.0.0.1:4410", key });
 * await orisma.records("works-raised", { from: "2025-02-01", to: "2025-02-28" });
 */
export class OrismaClient {
  constructor(private readonly options: ClientOptions) {}

  /** A page of a listing's records. */
  records(
    listing: string,
    parameters: QueryParameters = {},
    signal?: AbortSignal,
  ): Promise<RecordsAnswer> {
    return this.#json(addressOf("records", listing, parameters), { signal });
  }

  /** The page at a link of an earlier answer. */
  follow(link: string, signal?: AbortSignal): Promise<RecordsAnswer> {
    return this.#json(link, { signal });
  }

  /** How a request for records is understood, without running it. */
  explain(
    listing: string,
    parameters: QueryParameters = {},
    signal?: AbortSignal,
  ): Promise<Explanation> {
    return this.#json(addressOf("explain", listing, parameters), { signal });
  }

  async listings(signal?: AbortSignal): Promise<readonly ListingDescription[]> {
    const answer = await this.#json<{ listings: ListingDescription[] }>("/v1/listings", { signal });
    return answer.listings;
  }

  listing(name: string, signal?: AbortSignal): Promise<ListingDetails> {
    return this.#json(`/v1/listings/${encodeURIComponent(name)}`, { signal });
  }

  /** Declares a listing, or a new version of it. */
  declareListing(name: string, listing: NewListing): Promise<ListingDescription> {
    const address = `/v1/listings/${encodeURIComponent(name)}`;
    return this.#json(address, { method: "PUT", json: listing });
  }

  async removeListing(name: string): Promise<void> {
    await this.#call(`/v1/listings/${encodeURIComponent(name)}`, { method: "DELETE" });
  }

  async sources(): Promise<readonly SourceDescription[]> {
    return (await this.#json<{ sources: SourceDescription[] }>("/v1/sources")).sources;
  }

  source(name: string): Promise<SourceDescription> {
    return this.#json(`/v1/sources/${encodeURIComponent(name)}`);
  }

  /** How each column of a source is written, with the evidence. */
  profile(name: string): Promise<SourceProfile> {
    return this.#json(`/v1/sources/${encodeURIComponent(name)}/profile`);
  }

  /** Declares a source, which has no records until a file is taken. */
  createSource(source: NewSource): Promise<SourceDescription> {
    return this.#json("/v1/sources", { method: "POST", json: source });
  }

  /** Takes a CSV file as all the records of a source. */
  replaceRecords(name: string, file: BodyInit, signal?: AbortSignal): Promise<LoadReport> {
    const address = `/v1/sources/${encodeURIComponent(name)}/records`;
    return this.#json(address, { method: "PUT", file, signal });
  }

  /** Understands columns of a source otherwise, from their texts as they came. */
  settleColumns(name: string, columns: NonNullable<NewSource["columns"]>): Promise<LoadReport> {
    const address = `/v1/sources/${encodeURIComponent(name)}/readings`;
    return this.#json(address, { method: "PUT", json: { columns } });
  }

  async removeSource(name: string): Promise<void> {
    await this.#call(`/v1/sources/${encodeURIComponent(name)}`, { method: "DELETE" });
  }

  /** Reads values under a reading, without any source. */
  async readDates(
    values: readonly (string | number | null)[],
    reading: Reading,
  ): Promise<readonly ReadAnswer[]> {
    const json = { values, reading };
    return (await this.#json<{ results: ReadAnswer[] }>("/v1/dates/read", { method: "POST", json }))
      .results;
  }

  async keys(): Promise<readonly KeyDescription[]> {
    return (await this.#json<{ keys: KeyDescription[] }>("/v1/keys")).keys;
  }

  /** Makes a key, which is told this once. */
  createKey(key: {
    readonly name: string;
    readonly role: Role;
    readonly listings?: readonly string[];
  }): Promise<KeyDescription & { readonly key: string }> {
    return this.#json("/v1/keys", { method: "POST", json: key });
  }

  async revokeKey(id: number): Promise<void> {
    await this.#call(`/v1/keys/${id}`, { method: "DELETE" });
  }

  /** Makes a one-time code for signing in to the console. */
  createSignInCode(): Promise<{ readonly code: string; readonly expiresAt: string }> {
    return this.#json("/v1/sign-in-codes", { method: "POST", json: {} });
  }

  /** Who the caller is. */
  session(signal?: AbortSignal): Promise<{ readonly role: Role; readonly csrf: string | null }> {
    return this.#json("/v1/session", { signal });
  }

  /** Uses up a one-time code; the browser keeps the session's cookie. */
  signIn(code: string): Promise<{ readonly role: Role; readonly csrf: string }> {
    return this.#json("/v1/session", { method: "POST", json: { code } });
  }

  async signOut(): Promise<void> {
    await this.#call("/v1/session", { method: "DELETE" });
  }

  async #json<T>(address: string, call: Call = {}): Promise<T> {
    const response = await this.#call(address, call);
    return (await response.json()) as T;
  }

  async #call(address: string, { method = "GET", json, file, signal }: Call): Promise<Response> {
    const headers: Record<string, string> = { Accept: "application/json" };
    if (this.options.key !== undefined) headers.Authorization = `Bearer ${this.options.key}`;
    const csrf = method === "GET" ? null : (this.options.csrf?.() ?? null);
    if (csrf !== null) headers["X-CSRF-Token"] = csrf;
    if (json !== undefined) headers["Content-Type"] = "application/json";
    if (file !== undefined) headers["Content-Type"] = "text/csv";
    const body = json === undefined ? file : JSON.stringify(json);
    const response = await fetch(`${this.options.url}${address}`, {
      method,
      headers,
      ...(body === undefined ? {} : { body, duplex: "half" }),
      ...(signal === undefined ? {} : { signal }),
    }).catch((error: unknown) => {
      if (error instanceof Error && error.name === "AbortError") throw error;
      throw new OrismaError(`no answer from ${this.options.url}`, 0, null, { cause: error });
    });
    if (response.ok) return response;
    const problem = await problemFrom(response);
    throw new OrismaError(problem?.detail ?? response.statusText, response.status, problem);
  }
}

function addressOf(
  what: "records" | "explain",
  listing: string,
  parameters: QueryParameters,
): string {
  const query = new URLSearchParams();
  for (const [name, given] of Object.entries(parameters)) {
    const values = given === undefined ? [] : typeof given === "string" ? [given] : given;
    for (const value of values) query.append(name, value);
  }
  const text = query.toString();
  return `/v1/listings/${encodeURIComponent(listing)}/${what}${text === "" ? "" : `?${text}`}`;
}
