import type {
  Explanation,
  ListedWindowAnswer,
  ListingCalendar,
  ListingDeclaration,
  NamedWindow,
  PermittedKind,
  ReadAnswer,
  Reading,
  RecordAnswer,
  RecordsComparison,
  SourceProfile,
  Translation,
  WindowAnswer,
  ChoicesAnswer,
  CountsAnswer,
  DeclarationDifference,
  ExtentAnswer,
  SummaryAnswer,
  TimelineAnswer,
  WhyAnswer,
} from "@orisma/core/internal";
import { OrismaError, problemFrom } from "./error.js";
import type {
  AnyListings,
  ListingName,
  ParametersOf,
  QueryParameters,
  RecordOf,
  RecordsOf,
} from "./typed.js";
import type {
  AttachedDatabase,
  AttachedTable,
  AttachedTableDetails,
  SettlingPreview,
  FileLook,
  FileOptions,
  Holiday,
  HolidayListDescription,
  KeyDescription,
  LadderDescription,
  ListingDescription,
  ListingDetails,
  ListingVersion,
  LoadDescription,
  LoadProgress,
  LoadReport,
  NewAttachedDatabase,
  NewLadder,
  NewListing,
  NewSource,
  RecordInspection,
  RefusedRow,
  RepairedCell,
  Role,
  SourceDescription,
  TakeOptions,
  TranslateFilter,
  WhenAsked,
  WatchedFile,
} from "./shapes.js";

/** The content of a file: text, bytes, or a stream of them. */
export type FileBody = string | Uint8Array<ArrayBuffer> | Blob | ReadableStream;

export interface ClientOptions {
  /** Where the service is, such as `http://127.0.0.1:4410`; empty for the page's own origin. */
  readonly url: string;
  /** A bearer key; left out in the console, which has a session's cookie. */
  readonly key?: string;
  /** The token that a session's writes must show. */
  readonly csrf?: () => string | null;
}

/** What answers around a listing take beside its parameters. */
export interface AskedAround {
  /** Of choices: only those that have the text in them, and how many at most. */
  readonly search?: string;
  readonly limit?: string | number;
  /** Of a timeline. */
  readonly unit?: string;
  /** Of a summary. */
  readonly by?: string | readonly string[];
  readonly measure?: string | readonly string[];
}

interface Call {
  readonly method?: "GET" | "POST" | "PUT" | "PATCH" | "DELETE";
  /** Whether it changes nothing although it is sent as POST, for what it asks outgrows an address. */
  readonly isRead?: boolean;
  readonly json?: unknown;
  readonly file?: FileBody;
  readonly accept?: string;
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
export class OrismaClient<L extends object = AnyListings> {
  constructor(private readonly options: ClientOptions) {}

  /** A page of a listing's records. */
  records<N extends ListingName<L>>(
    listing: N,
    parameters?: ParametersOf<L, N>,
    signal?: AbortSignal,
  ): Promise<RecordsOf<RecordOf<L, N>>> {
    return this.#json(addressOf("records", listing, parameters), { signal });
  }

  /** One record of a listing, by its id. */
  record<N extends ListingName<L>>(
    listing: N,
    id: string | number,
    parameters?: ParametersOf<L, N>,
    signal?: AbortSignal,
  ): Promise<RecordOf<L, N>> {
    const what = `records/${encodeURIComponent(id)}` as const;
    return this.#json(addressOf(what, listing, parameters), { signal });
  }

  /** The page at a link of an earlier answer. */
  follow<R = RecordAnswer>(link: string, signal?: AbortSignal): Promise<RecordsOf<R>> {
    return this.#json(link, { signal });
  }

  /** How a request for records is understood, without running it. */
  explain<N extends ListingName<L>>(
    listing: N,
    parameters?: ParametersOf<L, N>,
    signal?: AbortSignal,
  ): Promise<Explanation> {
    return this.#json(addressOf("explain", listing, parameters), { signal });
  }

  /** Why a request finds no records; with an id also why that record is in or out of it. */
  why<N extends ListingName<L>>(
    listing: N,
    parameters?: ParametersOf<L, N>,
    id?: string,
    signal?: AbortSignal,
  ): Promise<WhyAnswer> {
    const what = id === undefined ? "why" : (`why/${encodeURIComponent(id)}` as const);
    return this.#json(addressOf(what, listing, parameters), { signal });
  }

  /** The values of a column in the records that pass all other conditions, with counts. */
  choices<N extends ListingName<L>>(
    listing: N,
    column: string,
    parameters?: ParametersOf<L, N> & AskedAround,
    signal?: AbortSignal,
  ): Promise<ChoicesAnswer> {
    const what = `choices/${encodeURIComponent(column)}` as const;
    return this.#json(addressOf(what, listing, parameters), { signal });
  }

  /** The first and last dates of the records asked for. */
  extent<N extends ListingName<L>>(
    listing: N,
    parameters?: ParametersOf<L, N>,
    signal?: AbortSignal,
  ): Promise<ExtentAnswer> {
    return this.#json(addressOf("extent", listing, parameters), { signal });
  }

  /** Records counted along time, in the `unit` that is asked for or one that fits. */
  timeline<N extends ListingName<L>>(
    listing: N,
    parameters?: ParametersOf<L, N> & AskedAround,
    signal?: AbortSignal,
  ): Promise<TimelineAnswer> {
    return this.#json(addressOf("timeline", listing, parameters), { signal });
  }

  /** Records grouped `by` one or two columns, with each `measure`. */
  summary<N extends ListingName<L>>(
    listing: N,
    parameters?: ParametersOf<L, N> & AskedAround,
    signal?: AbortSignal,
  ): Promise<SummaryAnswer> {
    return this.#json(addressOf("summary", listing, parameters), { signal });
  }

  async listings(signal?: AbortSignal): Promise<readonly ListingDescription[]> {
    const answer = await this.#json<{ listings: ListingDescription[] }>("/v1/listings", { signal });
    return answer.listings;
  }

  listing(name: string, signal?: AbortSignal): Promise<ListingDetails> {
    return this.#json(`/v1/listings/${encodeURIComponent(name)}`, { signal });
  }

  /** What a declaration would change; fails with all that is wrong with it. Nothing is kept. */
  checkListing(
    name: string,
    listing: NewListing,
    signal?: AbortSignal,
  ): Promise<DeclarationDifference> {
    const address = `/v1/listings/${encodeURIComponent(name)}/check`;
    return this.#json(address, { method: "POST", isRead: true, json: listing, signal });
  }

  /** Declares a listing, or a new version of it. */
  declareListing(name: string, listing: NewListing): Promise<ListingDescription> {
    const address = `/v1/listings/${encodeURIComponent(name)}`;
    return this.#json(address, { method: "PUT", json: listing });
  }

  /** Every version that there was of a listing, the newest first. */
  async listingVersions(name: string): Promise<readonly ListingVersion[]> {
    const address = `/v1/listings/${encodeURIComponent(name)}/versions`;
    return (await this.#json<{ versions: ListingVersion[] }>(address)).versions;
  }

  /** A listing as it was declared in a version. */
  listingVersion(name: string, version: number): Promise<ListingDeclaration> {
    return this.#json(`/v1/listings/${encodeURIComponent(name)}/versions/${version}`);
  }

  /** Serves what a version said again, as a new version. */
  serveListingVersion(name: string, version: number): Promise<ListingDescription> {
    const address = `/v1/listings/${encodeURIComponent(name)}/versions/${version}/serve`;
    return this.#json(address, { method: "POST" });
  }

  /** The JSON Schema of a declaration's file. */
  listingSchema(): Promise<Readonly<Record<string, unknown>>> {
    return this.#json("/schemas/listing.json");
  }

  async removeListing(name: string): Promise<void> {
    await this.#call(`/v1/listings/${encodeURIComponent(name)}`, { method: "DELETE" });
  }

  /** A filter in CQL2 as SQL for a table of one's own; it is never run. */
  translateFilter(request: TranslateFilter): Promise<Translation> {
    return this.#json("/v1/filters/translate", { method: "POST", isRead: true, json: request });
  }

  /** The attached databases. */
  async databases(): Promise<readonly AttachedDatabase[]> {
    return (await this.#json<{ databases: AttachedDatabase[] }>("/v1/databases")).databases;
  }

  /** Attaches a database, or gives another account to one that is attached. */
  attachDatabase(name: string, database: NewAttachedDatabase): Promise<AttachedDatabase> {
    return this.#json(databaseAddress(name), { method: "PUT", json: database });
  }

  /** Ends the attaching of a database that no source is of. */
  async removeDatabase(name: string): Promise<void> {
    await this.#call(databaseAddress(name), { method: "DELETE" });
  }

  /** The tables and views of an attached database that can be read. */
  async tables(database: string): Promise<readonly AttachedTable[]> {
    const address = `${databaseAddress(database)}/tables`;
    return (await this.#json<{ tables: AttachedTable[] }>(address)).tables;
  }

  /** What an attached database says of one of its tables. */
  table(database: string, table: string): Promise<AttachedTableDetails> {
    return this.#json(`${databaseAddress(database)}/tables/${encodeURIComponent(table)}`);
  }

  async sources(signal?: AbortSignal): Promise<readonly SourceDescription[]> {
    return (await this.#json<{ sources: SourceDescription[] }>("/v1/sources", { signal })).sources;
  }

  source(name: string, signal?: AbortSignal): Promise<SourceDescription> {
    return this.#json(sourceAddress(name), { signal });
  }

  /** How each column of a source is written, with the evidence. */
  profile(name: string, signal?: AbortSignal): Promise<SourceProfile> {
    return this.#json(`${sourceAddress(name)}/profile`, { signal });
  }

  /** Declares a source, which has no records until a file is taken. */
  createSource(source: NewSource): Promise<SourceDescription> {
    return this.#json("/v1/sources", { method: "POST", json: source });
  }

  /** Looks at a file without storing anything: what it is, its sheets, its headings. */
  lookAtFile(file: FileBody, options: FileOptions = {}, signal?: AbortSignal): Promise<FileLook> {
    return this.#json(`/v1/files/look${queryOf({ ...options })}`, { method: "POST", file, signal });
  }

  /**
   * Takes a file as the records of a source: CSV and other delimited text, JSON, NDJSON, XLSX
   * or ODS. Aborting leaves the records as they were.
   */
  takeFile(
    name: string,
    file: FileBody,
    { mode = "replace", ...options }: TakeOptions = {},
    signal?: AbortSignal,
  ): Promise<LoadReport> {
    const method = ({ replace: "PUT", append: "POST", update: "PATCH" } as const)[mode];
    const address = `${sourceAddress(name)}/records${queryOf(options)}`;
    return this.#json(address, { method, file, signal });
  }

  /** The load that runs on a source, and those of the past, the latest first. */
  loads(
    name: string,
    signal?: AbortSignal,
  ): Promise<{
    readonly running: LoadProgress | null;
    readonly loads: readonly LoadDescription[];
  }> {
    return this.#json(`${sourceAddress(name)}/loads`, { signal });
  }

  /** Ends the load that runs on a source; the records stay as they were. */
  async cancelLoad(name: string): Promise<void> {
    await this.#call(`${sourceAddress(name)}/loads/running`, { method: "DELETE" });
  }

  /** The rows of a load that could not be taken at all. */
  async refusedRows(
    name: string,
    load: number,
    signal?: AbortSignal,
  ): Promise<readonly RefusedRow[]> {
    const address = `${sourceAddress(name)}/loads/${load}/refused`;
    return (await this.#json<{ refused: RefusedRow[] }>(address, { signal })).refused;
  }

  /** The same as a CSV file, which can be taken once it is repaired. */
  async refusedCsv(name: string, load: number): Promise<string> {
    const address = `${sourceAddress(name)}/loads/${load}/refused`;
    return (await this.#call(address, { accept: "text/csv" })).text();
  }

  /** Makes the records what they were before the last load; a second time undoes it. */
  restoreRecords(name: string, { force = false }: Forced = {}): Promise<LoadReport> {
    return this.#json(`${sourceAddress(name)}/restore`, { method: "POST", json: { force } });
  }

  /** Takes a file of the service's inbox again whenever it changes; null ends that. */
  watchFile(
    name: string,
    watch: (Pick<WatchedFile, "file"> & Partial<WatchedFile>) | null,
  ): Promise<SourceDescription> {
    const address = `${sourceAddress(name)}/watch`;
    return watch === null
      ? this.#json(address, { method: "DELETE" })
      : this.#json(address, { method: "PUT", json: watch });
  }

  /**
   * What columns would come to if they were settled so, and which listings would no longer be
   * served; nothing is stored.
   */
  previewColumns(
    name: string,
    columns: NonNullable<NewSource["columns"]>,
    signal?: AbortSignal,
  ): Promise<SettlingPreview> {
    const address = `${sourceAddress(name)}/readings/preview`;
    return this.#json(address, { method: "POST", isRead: true, json: { columns }, signal });
  }

  /** Every cell of one record as it came, beside what it is read as. */
  inspectRecord(name: string, id: string): Promise<RecordInspection> {
    return this.#json(`${sourceAddress(name)}/records/${encodeURIComponent(id)}`);
  }

  /** Gives one cell of one record another text; null empties it. */
  repairCell(
    name: string,
    cell: { readonly id: string | number; readonly column: string; readonly value: string | null },
  ): Promise<RepairedCell> {
    return this.#json(`${sourceAddress(name)}/cells`, { method: "PATCH", json: cell });
  }

  /** Understands columns of a source otherwise, from their texts as they came. */
  settleColumns(
    name: string,
    columns: NonNullable<NewSource["columns"]>,
    { force = false }: Forced = {},
  ): Promise<LoadReport> {
    const address = `${sourceAddress(name)}/readings`;
    return this.#json(address, { method: "PUT", json: { columns, force } });
  }

  async removeSource(name: string): Promise<void> {
    await this.#call(sourceAddress(name), { method: "DELETE" });
  }

  /** Reads values under a reading, without any source. */
  async readDates(
    values: readonly (string | number | null)[],
    reading: Reading,
  ): Promise<readonly ReadAnswer[]> {
    const json = { values, reading };
    return (
      await this.#json<{ results: ReadAnswer[] }>("/v1/dates/read", {
        method: "POST",
        isRead: true,
        json,
      })
    ).results;
  }

  /** What a window comes to at an instant and in a zone, without any source. */
  resolveWindow(sent: {
    readonly window: string;
    readonly zone: string;
    readonly asOf?: string;
    readonly calendar?: ListingCalendar;
  }): Promise<WindowAnswer> {
    return this.#json("/v1/windows/resolve", { method: "POST", isRead: true, json: sent });
  }

  /**
   * Two requests to a listing side by side: what each comes to, and the records that only one
   * of them keeps.
   */
  compare(
    listing: string,
    requests: {
      readonly before?: QueryParameters;
      readonly after?: QueryParameters;
      /** Records that are shown of each difference at most. */
      readonly size?: number;
    },
    signal?: AbortSignal,
  ): Promise<RecordsComparison> {
    const address = `${addressIn("listings", listing)}/compare`;
    return this.#json(address, { method: "POST", isRead: true, json: requests, signal });
  }

  /** How many records each of several requests to a listing keeps, in their order; 100 at most. */
  async counts(
    listing: string,
    requests: readonly QueryParameters[],
    signal?: AbortSignal,
  ): Promise<CountsAnswer["counts"]> {
    const address = `${addressIn("listings", listing)}/counts`;
    const answer = await this.#json<CountsAnswer>(address, {
      method: "POST",
      isRead: true,
      json: { requests },
      signal,
    });
    return answer.counts;
  }

  /** The windows that have a name, with their dates. */
  async namedWindows(asked: WhenAsked = {}): Promise<readonly ListedWindowAnswer[]> {
    const address = `/v1/windows${queryOf({ ...asked })}`;
    return (await this.#json<{ windows: ListedWindowAnswer[] }>(address)).windows;
  }

  /** Gives a window a name, or a name another window. */
  declareWindow(name: string, window: Omit<NamedWindow, "name">): Promise<NamedWindow> {
    return this.#json(addressIn("windows", name), { method: "PUT", json: window });
  }

  async removeWindow(name: string): Promise<void> {
    await this.#call(addressIn("windows", name), { method: "DELETE" });
  }

  /** The ladders, with the dates of their rungs. */
  async ladders(asked: Pick<WhenAsked, "asOf"> = {}): Promise<readonly LadderDescription[]> {
    const address = `/v1/ladders${queryOf({ ...asked })}`;
    return (await this.#json<{ ladders: LadderDescription[] }>(address)).ladders;
  }

  /** Declares a ladder; refused where its rungs do not tile on some day. */
  declareLadder(name: string, ladder: NewLadder): Promise<LadderDescription> {
    return this.#json(addressIn("ladders", name), { method: "PUT", json: ladder });
  }

  async removeLadder(name: string): Promise<void> {
    await this.#call(addressIn("ladders", name), { method: "DELETE" });
  }

  async holidayLists(): Promise<readonly HolidayListDescription[]> {
    return (await this.#json<{ holidayLists: HolidayListDescription[] }>("/v1/holidays"))
      .holidayLists;
  }

  /** A list of days off, day by day. */
  holidayList(
    name: string,
  ): Promise<HolidayListDescription & { readonly holidays: readonly Holiday[] }> {
    return this.#json(addressIn("holidays", name));
  }

  /** Takes an iCalendar file as a list of days off; `left` names events that are no whole days. */
  takeHolidays(
    name: string,
    file: FileBody,
  ): Promise<HolidayListDescription & { readonly left: readonly string[] }> {
    return this.#json(addressIn("holidays", name), { method: "PUT", file });
  }

  async removeHolidays(name: string): Promise<void> {
    await this.#call(addressIn("holidays", name), { method: "DELETE" });
  }

  /** For every kind of window the columns and comparisons that a listing permits. */
  async permittedWindows(listing: string): Promise<readonly PermittedKind[]> {
    const address = `${addressIn("listings", listing)}/windows`;
    return (await this.#json<{ kinds: PermittedKind[] }>(address)).kinds;
  }

  async keys(): Promise<readonly KeyDescription[]> {
    return (await this.#json<{ keys: KeyDescription[] }>("/v1/keys")).keys;
  }

  /** Makes a key, which is told this once. */
  createKey(key: {
    readonly name: string;
    readonly role: Role;
    readonly listings?: readonly string[];
    /** An instant in the future, such as `2027-01-01T00:00:00Z`; never unless told. */
    readonly expiresAt?: string;
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

  /** The service's own description (OpenAPI 3.1), as far as the caller may see. */
  description(signal?: AbortSignal): Promise<Readonly<Record<string, unknown>>> {
    return this.#json("/openapi.json", { signal });
  }

  /** Who the caller is; without a key it is a person with the owner's code. */
  session(signal?: AbortSignal): Promise<{
    readonly role: Role;
    readonly csrf: string | null;
    readonly key: KeyDescription | null;
  }> {
    return this.#json("/v1/session", { signal });
  }

  /** Uses up a one-time code, or shows a key; the browser keeps the session's cookie. */
  signIn(code: string): Promise<{ readonly role: Role; readonly csrf: string }> {
    return this.#json("/v1/session", { method: "POST", json: { code } });
  }

  async signOut(): Promise<void> {
    await this.#call("/v1/session", { method: "DELETE" });
  }

  async #json<T>(address: string, call: Call = {}): Promise<T> {
    const response = await this.#call(address, call);
    try {
      return (await response.json()) as T;
    } catch (error) {
      if (isAbort(error)) throw error;
      const message = `the answer from ${this.options.url} ended before it was whole`;
      throw new OrismaError(message, 0, null, { cause: error });
    }
  }

  /**
   * Sends a call, and once more where its connection was lost before an answer came: a service may
   * close one that was idle just when it is used. A call that would do something twice is not sent
   * again.
   */
  async #call(address: string, call: Call): Promise<Response> {
    const { response, isAgain } = await this.#sent(address, call).catch((error: unknown) => {
      if (isAbort(error)) throw error;
      throw new OrismaError(`no answer from ${this.options.url}`, 0, null, { cause: error });
    });
    if (response.ok) return response;
    // What was to go has gone: the first call did it, and only its answer was lost.
    if (isAgain && call.method === "DELETE" && response.status === 404) return response;
    const problem = await problemFrom(response);
    throw new OrismaError(problem?.detail ?? response.statusText, response.status, problem);
  }

  /** The answer, and whether it is that to a second call. */
  async #sent(address: string, call: Call): Promise<{ response: Response; isAgain: boolean }> {
    try {
      return { response: await this.#send(address, call), isAgain: false };
    } catch (error) {
      if (!mayRepeat(call) || !isLost(error)) throw error;
      return { response: await this.#send(address, call), isAgain: true };
    }
  }

  #send(address: string, call: Call): Promise<Response> {
    const { method = "GET", json, file, accept = "application/json", signal } = call;
    const headers: Record<string, string> = { Accept: accept };
    if (this.options.key !== undefined) headers.Authorization = `Bearer ${this.options.key}`;
    const csrf = method === "GET" ? null : (this.options.csrf?.() ?? null);
    if (csrf !== null) headers["X-CSRF-Token"] = csrf;
    if (json !== undefined) headers["Content-Type"] = "application/json";
    if (file !== undefined) headers["Content-Type"] = "application/octet-stream";
    const body = json === undefined ? file : JSON.stringify(json);
    return fetch(`${this.options.url}${address}`, {
      method,
      headers,
      ...(body === undefined ? {} : { body, duplex: "half" }),
      ...(signal === undefined ? {} : { signal }),
    });
  }
}

/** Whether a call does no more when it is sent twice (RFC 9110, section 9.2.2); a file is read once. */
function mayRepeat({ method = "GET", isRead = false, file }: Call): boolean {
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

function databaseAddress(name: string): string {
  return addressIn("databases", name);
}

function sourceAddress(name: string): string {
  return addressIn("sources", name);
}

function addressIn(what: string, name: string): string {
  return `/v1/${what}/${encodeURIComponent(name)}`;
}

/** An act that is refused where listings would no longer be served, unless it is forced. */
interface Forced {
  readonly force?: boolean;
}

type Option = string | number | boolean | readonly (string | number | boolean)[] | undefined;

/** Options as the parameters of an address. */
function queryOf(options: Readonly<Record<string, Option>>): string {
  const query = new URLSearchParams();
  for (const [name, given] of Object.entries(options)) {
    if (given === undefined) continue;
    const values = typeof given === "object" ? given : [given];
    for (const value of values) {
      query.append(name, value === true ? "yes" : value === false ? "no" : String(value));
    }
  }
  const text = query.toString();
  return text === "" ? "" : `?${text}`;
}

type Around =
  | "records"
  | "explain"
  | "why"
  | `why/${string}`
  | "extent"
  | "timeline"
  | "summary"
  | `choices/${string}`
  | `records/${string}`;

function addressOf(what: Around, listing: string, parameters: object = {}): string {
  const query = queryOf(parameters as Readonly<Record<string, Option>>);
  return `${addressIn("listings", listing)}/${what}${query}`;
}
