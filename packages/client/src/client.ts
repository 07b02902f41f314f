import type {
  Answer,
  Calls,
  Columns,
  EditPolicy,
  NewListing,
  NewSource,
  SentBody,
  SentQuery,
  WatchedFile,
} from "@orisma/contract";
import {
  Transport,
  stringsOf,
  type CallInput,
  type ClientCall,
  type ClientOptions,
  type FileBody,
} from "./transport.js";
import type {
  AnyListings,
  ListingName,
  ParametersOf,
  QueryParameters,
  RecordOf,
  RecordsOf,
} from "./typed.js";

/** What answers around a listing take beside its parameters. */
export interface AroundRequest {
  /** Of choices: only those that have the text in them, and how many at most. */
  readonly search?: string;
  readonly limit?: string | number;
  /** Of a timeline. */
  readonly unit?: string;
  /** Of a summary. */
  readonly by?: string | readonly string[];
  readonly measure?: string | readonly string[];
}

/** An act that is refused where listings would no longer be served, unless it is forced. */
interface Forced {
  readonly force?: boolean;
}

/** How a file is read; what is not given is detected. */
export type FileOptions = SentQuery<Calls["POST /v1/files/inspect"]>;

/** How a file is imported. */
export type ImportOptions = SentQuery<Calls["PUT /v1/sources/{name}/records"]> & {
  readonly mode?: "replace" | "append" | "update";
};

/** When and where windows are resolved: now and in universal time by default. */
export type MomentQuery = SentQuery<Calls["GET /v1/windows"]>;

/** A filter to be written for a table of one's own. */
export type TranslateFilter = SentBody<Calls["POST /v1/filters/translate"]>;

/** A ladder to be declared: windows that tile a period, by name or as they are written. */
export type NewLadder = SentBody<Calls["PUT /v1/ladders/{name}"]>;

/** What a call returns, by its name. */
type Returned<Name extends ClientCall> = Promise<Answer<Calls[Name]>>;

/**
 * A client of the Orisma service, for Node.js and browsers. Every call of the service can be made by
 * its name with {@link OrismaClient.call}; the other methods are shorter ways to the same.
 *
 * @example
 * const orisma = new OrismaClient({ url: "http://127.0.0.1:4410", key });
 * await orisma.records("works-raised", { from: "2025-02-01", to: "2025-02-28" });
 */
export class OrismaClient<L extends object = AnyListings> {
  readonly #transport: Transport;

  constructor(options: ClientOptions) {
    this.#transport = new Transport(options);
  }

  /**
   * Makes a call of the service. Fails with an {@link OrismaError}: one with the service's problem
   * document, or one with status 0 where the service could not be reached.
   *
   * @example
   * await orisma.call("GET /v1/sources/{name}", { path: { name: "works" } });
   */
  call<Name extends ClientCall>(name: Name, input: CallInput<Name>): Returned<Name> {
    return this.#transport.call(name, input);
  }

  /** A page of a listing's records. */
  records<N extends ListingName<L>>(
    listing: N,
    parameters?: ParametersOf<L, N>,
    signal?: AbortSignal,
  ): Promise<RecordsOf<RecordOf<L, N>>> {
    const answer = this.call("GET /v1/listings/{name}/records", of(listing, parameters, signal));
    return answer as Promise<RecordsOf<RecordOf<L, N>>>;
  }

  /** One record of a listing, by its id. */
  record<N extends ListingName<L>>(
    listing: N,
    id: string | number,
    parameters?: ParametersOf<L, N>,
    signal?: AbortSignal,
  ): Promise<RecordOf<L, N>> {
    const { query } = of(listing, parameters);
    const path = { name: listing, id };
    const answer = this.call("GET /v1/listings/{name}/records/{id}", { path, query, signal });
    return answer as Promise<RecordOf<L, N>>;
  }

  /** The page at a link of an earlier answer. */
  follow<R = RecordOf<AnyListings, string>>(
    link: string,
    signal?: AbortSignal,
  ): Promise<RecordsOf<R>> {
    return this.#transport.follow(link, signal);
  }

  /** How a request for records is understood, without running it. */
  explain<N extends ListingName<L>>(
    listing: N,
    parameters?: ParametersOf<L, N>,
    signal?: AbortSignal,
  ): Returned<"GET /v1/listings/{name}/explain"> {
    return this.call("GET /v1/listings/{name}/explain", of(listing, parameters, signal));
  }

  /** Why a request finds no records; with an id also why that record is in or out of it. */
  why<N extends ListingName<L>>(
    listing: N,
    parameters?: ParametersOf<L, N>,
    id?: string,
    signal?: AbortSignal,
  ): Returned<"GET /v1/listings/{name}/why"> {
    const { query } = of(listing, parameters);
    return id === undefined
      ? this.call("GET /v1/listings/{name}/why", { path: { name: listing }, query, signal })
      : this.call("GET /v1/listings/{name}/why/{id}", {
          path: { name: listing, id },
          query,
          signal,
        });
  }

  /** The values of a column in the records that pass all other conditions, with counts. */
  choices<N extends ListingName<L>>(
    listing: N,
    column: string,
    parameters?: ParametersOf<L, N> & AroundRequest,
    signal?: AbortSignal,
  ): Returned<"GET /v1/listings/{name}/choices/{column}"> {
    const { query } = of(listing, parameters);
    const path = { name: listing, column };
    return this.call("GET /v1/listings/{name}/choices/{column}", { path, query, signal });
  }

  /** The first and last dates of the requested records. */
  extent<N extends ListingName<L>>(
    listing: N,
    parameters?: ParametersOf<L, N>,
    signal?: AbortSignal,
  ): Returned<"GET /v1/listings/{name}/extent"> {
    return this.call("GET /v1/listings/{name}/extent", of(listing, parameters, signal));
  }

  /** Records counted along time, in the `unit` that is requested or one that fits. */
  timeline<N extends ListingName<L>>(
    listing: N,
    parameters?: ParametersOf<L, N> & AroundRequest,
    signal?: AbortSignal,
  ): Returned<"GET /v1/listings/{name}/timeline"> {
    return this.call("GET /v1/listings/{name}/timeline", of(listing, parameters, signal));
  }

  /** Records grouped `by` one or two columns, with each `measure`. */
  summary<N extends ListingName<L>>(
    listing: N,
    parameters?: ParametersOf<L, N> & AroundRequest,
    signal?: AbortSignal,
  ): Returned<"GET /v1/listings/{name}/summary"> {
    return this.call("GET /v1/listings/{name}/summary", of(listing, parameters, signal));
  }

  /**
   * Two requests to a listing side by side: what each comes to, and the records that only one of them
   * keeps, up to `size` of each.
   */
  compare(
    listing: string,
    requests: {
      readonly before?: QueryParameters;
      readonly after?: QueryParameters;
      readonly size?: number;
    },
    signal?: AbortSignal,
  ): Returned<"POST /v1/listings/{name}/compare"> {
    const { before = {}, after = {}, ...rest } = requests;
    const body = { before: stringsOf(before), after: stringsOf(after), ...rest };
    return this.call("POST /v1/listings/{name}/compare", { path: { name: listing }, body, signal });
  }

  /** How many records each of several requests to a listing keeps, in their order; 100 at most. */
  async counts(listing: string, requests: readonly QueryParameters[], signal?: AbortSignal) {
    const body = { requests: requests.map(stringsOf) };
    const input = { path: { name: listing }, body, signal };
    return (await this.call("POST /v1/listings/{name}/counts", input)).counts;
  }

  async listings(signal?: AbortSignal) {
    return (await this.call("GET /v1/listings", { signal })).listings;
  }

  listing(name: string, signal?: AbortSignal) {
    return this.call("GET /v1/listings/{name}", { path: { name }, signal });
  }

  /** What a declaration would change; fails with all that is wrong with it. Nothing is kept. */
  checkListing(name: string, listing: NewListing, signal?: AbortSignal) {
    const input = { path: { name }, body: listing, signal };
    return this.call("POST /v1/listings/{name}/check", input);
  }

  /** The records that a declaration would return to a request. Nothing is kept. */
  checkRecords(
    name: string,
    listing: NewListing,
    parameters: QueryParameters = {},
    signal?: AbortSignal,
  ): Returned<"POST /v1/listings/{name}/check/records"> {
    const input = { path: { name }, query: parameters, body: listing, signal };
    return this.call("POST /v1/listings/{name}/check/records", input);
  }

  /** Declares a listing, or a new version of it. */
  declareListing(name: string, listing: NewListing) {
    return this.call("PUT /v1/listings/{name}", { path: { name }, body: listing });
  }

  /** Makes a listing from another, narrowed by bound values; made again it is a new version. */
  copyListing(
    from: string,
    copy: SentBody<Calls["POST /v1/listings/{name}/copies"]>,
  ): Returned<"POST /v1/listings/{name}/copies"> {
    return this.call("POST /v1/listings/{name}/copies", { path: { name: from }, body: copy });
  }

  /** Gives a listing another name; calls of the old one are redirected for a time. */
  renameListing(
    name: string,
    renaming: SentBody<Calls["POST /v1/listings/{name}/rename"]>,
  ): Returned<"POST /v1/listings/{name}/rename"> {
    return this.call("POST /v1/listings/{name}/rename", { path: { name }, body: renaming });
  }

  /** A record with the ETag that an edit of it requires; without one where it cannot be edited. */
  async recordToEdit(
    listing: string,
    id: string,
    parameters: QueryParameters = {},
    signal?: AbortSignal,
  ): Promise<{
    readonly record: Answer<Calls["GET /v1/listings/{name}/records/{id}"]>;
    readonly etag: string;
  }> {
    const input = { path: { name: listing, id }, query: parameters, signal };
    const response = await this.#transport.respond("GET /v1/listings/{name}/records/{id}", input);
    const record = (await response.json()) as Answer<Calls["GET /v1/listings/{name}/records/{id}"]>;
    return { record, etag: response.headers.get("ETag") ?? "" };
  }

  /**
   * Edits cells of a record, which must be as its ETag says (`*` whatever it is); null empties a cell. With
   * parameters the answer says whether that request still keeps it.
   */
  editRecord(
    listing: string,
    id: string,
    values: SentBody<Calls["PATCH /v1/listings/{name}/records/{id}"]>["values"],
    { etag, parameters = {} }: { readonly etag: string; readonly parameters?: QueryParameters },
  ): Returned<"PATCH /v1/listings/{name}/records/{id}"> {
    const input = { path: { name: listing, id }, query: parameters, body: { values } };
    return this.call("PATCH /v1/listings/{name}/records/{id}", { ...input, ifMatch: etag });
  }

  /** Makes a change that a listing names: of some records, or of as many as a request is said to keep. */
  act(
    listing: string,
    action: string,
    body: SentBody<Calls["POST /v1/listings/{name}/actions/{action}"]>,
    parameters: QueryParameters = {},
  ): Returned<"POST /v1/listings/{name}/actions/{action}"> {
    const input = { path: { name: listing, action }, query: parameters, body };
    return this.call("POST /v1/listings/{name}/actions/{action}", input);
  }

  /** The edits that were made in a listing, or those of one record; the latest first. */
  async edits(
    listing: string,
    query: SentQuery<Calls["GET /v1/listings/{name}/edits"]> = {},
    signal?: AbortSignal,
  ) {
    const input = { path: { name: listing }, query, signal };
    return (await this.call("GET /v1/listings/{name}/edits", input)).edits;
  }

  /** Takes an edit back, where its cells are still as it made them. */
  undoEdit(
    listing: string,
    number: number,
  ): Returned<"POST /v1/listings/{name}/edits/{number}/undo"> {
    const path = { name: listing, number };
    return this.call("POST /v1/listings/{name}/edits/{number}/undo", { path });
  }

  /** Says what becomes of edits that an import of a source would overwrite. */
  setEditPolicy(
    name: string,
    onImport: SentBody<Calls["PUT /v1/sources/{name}/edits"]>["onImport"],
  ): Returned<"PUT /v1/sources/{name}/edits"> {
    return this.call("PUT /v1/sources/{name}/edits", { path: { name }, body: { onImport } });
  }

  /** The defaults of a listing that were set from outside its declaration. */
  async overrides(listing: string, signal?: AbortSignal) {
    const input = { path: { name: listing }, signal };
    return (await this.call("GET /v1/listings/{name}/overrides", input)).overrides;
  }

  /** Sets what applies to a parameter where nothing is sent, for a time and with a reason. */
  setOverride(
    listing: string,
    parameter: string,
    body: SentBody<Calls["PUT /v1/listings/{name}/overrides/{parameter}"]>,
  ): Returned<"PUT /v1/listings/{name}/overrides/{parameter}"> {
    const path = { name: listing, parameter };
    return this.call("PUT /v1/listings/{name}/overrides/{parameter}", { path, body });
  }

  /** Removes what was set: the default of the declaration applies again. */
  async removeOverride(listing: string, parameter: string): Promise<void> {
    const path = { name: listing, parameter };
    await this.call("DELETE /v1/listings/{name}/overrides/{parameter}", { path });
  }

  /** The deliveries of a listing, and what became of the last of each. */
  async deliveries(listing: string, signal?: AbortSignal) {
    const input = { path: { name: listing }, signal };
    return (await this.call("GET /v1/listings/{name}/deliveries", input)).deliveries;
  }

  /** Delivers what a request keeps from now on; a secret for signatures is shown this once. */
  createDelivery(
    listing: string,
    body: SentBody<Calls["POST /v1/listings/{name}/deliveries"]>,
  ): Returned<"POST /v1/listings/{name}/deliveries"> {
    return this.call("POST /v1/listings/{name}/deliveries", { path: { name: listing }, body });
  }

  async deleteDelivery(listing: string, id: number): Promise<void> {
    await this.call("DELETE /v1/listings/{name}/deliveries/{id}", { path: { name: listing, id } });
  }

  /** What became of each delivery, the latest first. */
  async deliveryRuns(listing: string, id: number) {
    const path = { name: listing, id };
    return (await this.call("GET /v1/listings/{name}/deliveries/{id}/runs", { path })).runs;
  }

  /** Delivers now. */
  runDelivery(listing: string, id: number) {
    const path = { name: listing, id };
    return this.call("POST /v1/listings/{name}/deliveries/{id}/runs", { path });
  }

  /** Tries a delivery that failed again. */
  retryDelivery(listing: string, id: number, run: number) {
    const path = { name: listing, id, run };
    return this.call("POST /v1/listings/{name}/deliveries/{id}/runs/{run}/retry", { path });
  }

  /** One's own views of a listing, by name. */
  async views(listing: string) {
    return (await this.call("GET /v1/listings/{name}/views", { path: { name: listing } })).views;
  }

  /** Keeps a view of a listing, in place of the one of that name. */
  putView(
    listing: string,
    view: string,
    body: SentBody<Calls["PUT /v1/listings/{name}/views/{view}"]>,
  ): Returned<"PUT /v1/listings/{name}/views/{view}"> {
    const path = { name: listing, view };
    return this.call("PUT /v1/listings/{name}/views/{view}", { path, body });
  }

  /** Deletes a view of one's own. */
  async deleteView(listing: string, view: string): Promise<void> {
    await this.call("DELETE /v1/listings/{name}/views/{view}", { path: { name: listing, view } });
  }

  /** Makes a private address of a listing for a calendar or a reader of feeds, which needs no key. */
  createFeed(
    listing: string,
    feed: SentBody<Calls["POST /v1/listings/{name}/feeds"]>,
  ): Returned<"POST /v1/listings/{name}/feeds"> {
    return this.call("POST /v1/listings/{name}/feeds", { path: { name: listing }, body: feed });
  }

  /** The private addresses of a listing, and what was delivered last. */
  async feeds(listing: string) {
    return (await this.call("GET /v1/listings/{name}/feeds", { path: { name: listing } })).feeds;
  }

  /** Revokes a private address. */
  async revokeFeed(listing: string, id: number): Promise<void> {
    const path = { name: listing, id: String(id) };
    await this.call("DELETE /v1/listings/{name}/feeds/{id}", { path });
  }

  /** Every version that there was of a listing, the latest first. */
  async listingVersions(name: string) {
    return (await this.call("GET /v1/listings/{name}/versions", { path: { name } })).versions;
  }

  /** A listing as it was declared in a version. */
  listingVersion(name: string, version: number) {
    return this.call("GET /v1/listings/{name}/versions/{version}", { path: { name, version } });
  }

  /** Serves a version again, as a new version. */
  revertListing(name: string, version: number) {
    const path = { name, version };
    return this.call("POST /v1/listings/{name}/versions/{version}/revert", { path });
  }

  async deleteListing(name: string): Promise<void> {
    await this.call("DELETE /v1/listings/{name}", { path: { name } });
  }

  /** For every kind of window the columns and comparisons that a listing permits. */
  async allowedWindows(listing: string) {
    return (await this.call("GET /v1/listings/{name}/windows", { path: { name: listing } })).kinds;
  }

  /** The JSON Schema of a declaration's file. */
  listingSchema() {
    return this.call("GET /schemas/listing.json", {});
  }

  /** A filter in CQL2 as SQL for a table of one's own; it is never run. */
  translateFilter(body: TranslateFilter) {
    return this.call("POST /v1/filters/translate", { body });
  }

  /** The attached databases. */
  async databases() {
    return (await this.call("GET /v1/databases", {})).databases;
  }

  /** Attaches a database, or gives another account to one that is attached. */
  attachDatabase(name: string, body: SentBody<Calls["PUT /v1/databases/{name}"]>) {
    return this.call("PUT /v1/databases/{name}", { path: { name }, body });
  }

  /** Detaches a database of which there is no source. */
  async detachDatabase(name: string): Promise<void> {
    await this.call("DELETE /v1/databases/{name}", { path: { name } });
  }

  /** The tables and views of an attached database that can be read. */
  async tables(database: string) {
    const path = { name: database };
    return (await this.call("GET /v1/databases/{name}/tables", { path })).tables;
  }

  /** What an attached database says of one of its tables. */
  table(database: string, table: string) {
    const path = { name: database, table };
    return this.call("GET /v1/databases/{name}/tables/{table}", { path });
  }

  async sources(signal?: AbortSignal) {
    return (await this.call("GET /v1/sources", { signal })).sources;
  }

  source(name: string, signal?: AbortSignal) {
    return this.call("GET /v1/sources/{name}", { path: { name }, signal });
  }

  /** How each column of a source is written, with the evidence. */
  profile(name: string, signal?: AbortSignal) {
    return this.call("GET /v1/sources/{name}/profile", { path: { name }, signal });
  }

  /** Declares a source, which has no records until a file is taken. */
  createSource(body: NewSource) {
    return this.call("POST /v1/sources", { body });
  }

  async deleteSource(name: string): Promise<void> {
    await this.call("DELETE /v1/sources/{name}", { path: { name } });
  }

  /** Looks at a file without storing anything: what it is, its sheets, its headings. */
  inspectFile(file: FileBody, query: FileOptions = {}, signal?: AbortSignal) {
    return this.call("POST /v1/files/inspect", { file, query, signal });
  }

  /**
   * Imports a file as the records of a source: CSV and other delimited text, JSON, NDJSON, XLSX or ODS.
   * Aborting leaves the records as they were.
   */
  importFile(
    name: string,
    file: FileBody,
    { mode = "replace", ...query }: ImportOptions = {},
    signal?: AbortSignal,
  ): Returned<"PUT /v1/sources/{name}/records"> {
    const method = ({ replace: "PUT", append: "POST", update: "PATCH" } as const)[mode];
    const input = { path: { name }, file, query, signal };
    return this.call(`${method} /v1/sources/{name}/records`, input);
  }

  /** The import that runs on a source, and those of the past, the latest first. */
  imports(name: string, signal?: AbortSignal) {
    return this.call("GET /v1/sources/{name}/imports", { path: { name }, signal });
  }

  /** Cancels the import that runs on a source; the records stay as they were. */
  async cancelImport(name: string): Promise<void> {
    await this.call("DELETE /v1/sources/{name}/imports/running", { path: { name } });
  }

  /** The rows of an import that could not be imported. */
  async refusedRows(name: string, number: number, signal?: AbortSignal) {
    const input = { path: { name, number }, signal };
    return (await this.call("GET /v1/sources/{name}/imports/{number}/refused", input)).refused;
  }

  /** The same as a CSV file, which can be taken once it is repaired. */
  async refusedCsv(name: string, number: number): Promise<string> {
    const input = { path: { name, number }, accept: "text/csv" };
    const call = "GET /v1/sources/{name}/imports/{number}/refused";
    return (await this.#transport.respond(call, input)).text();
  }

  /** Makes the records what they were before the last import; a second time undoes it. */
  restoreRecords(
    name: string,
    { force = false, edits }: Forced & { readonly edits?: EditPolicy } = {},
  ) {
    const body = edits === undefined ? { force } : { force, edits };
    return this.call("POST /v1/sources/{name}/restore", { path: { name }, body });
  }

  /** What stands on a column of a source: listings, sources made of it, edits. */
  columnUses(name: string, column: string, signal?: AbortSignal) {
    const input = { path: { name, column }, signal };
    return this.call("GET /v1/sources/{name}/columns/{column}/uses", input);
  }

  /** The indexes of a source, and those that would serve requests which were slow. */
  indexes(name: string) {
    return this.call("GET /v1/sources/{name}/indexes", { path: { name } });
  }

  /** Makes an index of a source, while its records are read; resolves once it is made. */
  addIndex(name: string, columns: readonly string[]) {
    return this.call("POST /v1/sources/{name}/indexes", {
      path: { name },
      body: { columns: [...columns] },
    });
  }

  /** Deletes an index that was requested. */
  async deleteIndex(name: string, columns: readonly string[]): Promise<void> {
    const path = { name, columns: columns.join(",") };
    await this.call("DELETE /v1/sources/{name}/indexes/{columns}", { path });
  }

  /** Imports a file of the service's inbox, or from an address, again whenever it changes; null stops that. */
  watchFile(
    name: string,
    watch:
      | ((Required<Pick<WatchedFile, "file">> | Required<Pick<WatchedFile, "url">>) &
          Partial<WatchedFile>)
      | null,
  ): Returned<"PUT /v1/sources/{name}/watch"> {
    return watch === null
      ? this.call("DELETE /v1/sources/{name}/watch", { path: { name } })
      : this.call("PUT /v1/sources/{name}/watch", { path: { name }, body: watch });
  }

  /** What is watched, and what came of looking at it, the last first. */
  watch(name: string): Returned<"GET /v1/sources/{name}/watch"> {
    return this.call("GET /v1/sources/{name}/watch", { path: { name } });
  }

  /** Looks at the watched file now; the outcome says whether it was imported. */
  lookNow(name: string): Returned<"POST /v1/sources/{name}/watch/look"> {
    return this.call("POST /v1/sources/{name}/watch/look", { path: { name } });
  }

  /**
   * What columns would be under other readings, and which listings would no longer be served; nothing
   * is stored.
   */
  previewReadings(name: string, columns: Columns, signal?: AbortSignal) {
    const input = { path: { name }, body: { columns }, signal };
    return this.call("POST /v1/sources/{name}/readings/preview", input);
  }

  /** Sets how columns of a source are read, from their strings as they came. */
  setReadings(
    name: string,
    columns: Columns,
    { force = false, partly = false }: Forced & { readonly partly?: boolean } = {},
  ) {
    const body = { columns, force, partly };
    return this.call("PUT /v1/sources/{name}/readings", { path: { name }, body });
  }

  /** Every cell of one record as it came, beside what it is read as. */
  inspectRecord(name: string, id: string) {
    return this.call("GET /v1/sources/{name}/records/{id}", { path: { name, id } });
  }

  /** Gives one cell of one record another text; null empties it. */
  repairCell(name: string, cell: SentBody<Calls["PATCH /v1/sources/{name}/cells"]>) {
    return this.call("PATCH /v1/sources/{name}/cells", { path: { name }, body: cell });
  }

  /** Reads values under a reading, without any source. */
  async readDates(
    values: readonly (string | number | null)[],
    reading: SentBody<Calls["POST /v1/dates/read"]>["reading"],
  ) {
    return (await this.call("POST /v1/dates/read", { body: { values, reading } })).results;
  }

  /** What a window comes to at an instant and in a zone, without any source. */
  resolveWindow(body: SentBody<Calls["POST /v1/windows/resolve"]>) {
    return this.call("POST /v1/windows/resolve", { body });
  }

  /** The windows that have a name, with their dates. */
  async namedWindows(query: MomentQuery = {}) {
    return (await this.call("GET /v1/windows", { query })).windows;
  }

  /** Gives a window a name, or a name another window. */
  declareWindow(name: string, body: SentBody<Calls["PUT /v1/windows/{name}"]>) {
    return this.call("PUT /v1/windows/{name}", { path: { name }, body });
  }

  async deleteWindow(name: string): Promise<void> {
    await this.call("DELETE /v1/windows/{name}", { path: { name } });
  }

  /** The ladders, with the dates of their rungs. */
  async ladders(query: Pick<MomentQuery, "asOf"> = {}) {
    return (await this.call("GET /v1/ladders", { query })).ladders;
  }

  /** Declares a ladder; refused where its rungs do not tile on some day. */
  declareLadder(name: string, body: NewLadder) {
    return this.call("PUT /v1/ladders/{name}", { path: { name }, body });
  }

  async deleteLadder(name: string): Promise<void> {
    await this.call("DELETE /v1/ladders/{name}", { path: { name } });
  }

  async holidayLists() {
    return (await this.call("GET /v1/holidays", {})).holidayLists;
  }

  /** A list of days off, day by day. */
  holidayList(name: string) {
    return this.call("GET /v1/holidays/{name}", { path: { name } });
  }

  /** Imports an iCalendar file as a list of days off; `skipped` names events that are not whole days. */
  importHolidays(name: string, file: FileBody) {
    return this.call("PUT /v1/holidays/{name}", { path: { name }, file });
  }

  async deleteHolidays(name: string): Promise<void> {
    await this.call("DELETE /v1/holidays/{name}", { path: { name } });
  }

  async keys() {
    return (await this.call("GET /v1/keys", {})).keys;
  }

  /** Creates a key, which is shown this once. */
  createKey(body: SentBody<Calls["POST /v1/keys"]>) {
    return this.call("POST /v1/keys", { body });
  }

  /** Replaces a key by another with the same rights; the one before is valid for so many minutes more. */
  rotateKey(id: number, overlapMinutes = 0) {
    return this.call("POST /v1/keys/{id}/rotate", { path: { id }, body: { overlapMinutes } });
  }

  async revokeKey(id: number): Promise<void> {
    await this.call("DELETE /v1/keys/{id}", { path: { id } });
  }

  /** A backup of all that the service keeps, piece by piece; with its secret where that is requested. */
  async backup({ secret = false } = {}, signal?: AbortSignal): Promise<ReadableStream<Uint8Array>> {
    const query = secret ? ({ secret: "true" } as const) : {};
    const { body } = await this.#transport.respond("GET /v1/backup", { query, signal });
    if (body === null) throw new Error("the service sent no backup");
    return body;
  }

  /** Puts a backup in the place of what an empty service has, which starts anew after it. */
  restore(file: FileBody, signal?: AbortSignal) {
    return this.call("POST /v1/restore", { file, signal });
  }

  /** Who read, exported and changed what, the latest first; `next` is the cursor of the page after. */
  audit(query: SentQuery<Calls["GET /v1/audit"]> = {}, signal?: AbortSignal) {
    return this.call("GET /v1/audit", { query, signal });
  }

  /** What is wrong with the installation, the worst first. */
  async doctor(signal?: AbortSignal) {
    return (await this.call("GET /v1/doctor", { signal })).findings;
  }

  /** Creates a one-time code for signing in to the console. */
  createSignInCode() {
    return this.call("POST /v1/sign-in-codes", {});
  }

  /** The service's own description (OpenAPI 3.1), as far as the caller may see. */
  description(signal?: AbortSignal) {
    return this.call("GET /openapi.json", { signal });
  }

  /** Who the caller is; without a key it is a person with the owner's code. */
  session(signal?: AbortSignal) {
    return this.call("GET /v1/session", { signal });
  }

  /** Uses up a one-time code, or shows a key; the browser keeps the session's cookie. */
  signIn(code: string) {
    return this.call("POST /v1/session", { body: { code } });
  }

  /** How people can sign in beside codes, keys and passwords. */
  signInWays() {
    return this.call("GET /v1/sign-in", {});
  }

  /** Signs a person in; the browser keeps the session's cookie. */
  signInAs(name: string, password: string) {
    return this.call("POST /v1/session", { body: { name, password } });
  }

  /** Changes one's own password; all of one's sessions end. */
  async changePassword(current: string, password: string): Promise<void> {
    await this.call("PUT /v1/session/password", { body: { current, password } });
  }

  /** The people who sign in with a name and a password. */
  async people(signal?: AbortSignal) {
    return (await this.call("GET /v1/people", { signal })).people;
  }

  /** Adds a person; a password that is made is shown this once. */
  createPerson(body: SentBody<Calls["POST /v1/people"]>) {
    return this.call("POST /v1/people", { body });
  }

  /** Changes what a person may, from their next request on. */
  changePerson(name: string, body: SentBody<Calls["PUT /v1/people/{name}"]>) {
    return this.call("PUT /v1/people/{name}", { path: { name }, body });
  }

  /** Makes a fresh password for a person, shown this once; their sessions end. */
  resetPassword(name: string) {
    return this.call("POST /v1/people/{name}/password", { path: { name } });
  }

  /** Deletes a person, whose sessions end at once. */
  async deletePerson(name: string): Promise<void> {
    await this.call("DELETE /v1/people/{name}", { path: { name } });
  }

  async signOut(): Promise<void> {
    await this.call("DELETE /v1/session", {});
  }
}

/** A listing, and the parameters that are sent to it, of whatever types they are declared. */
function of(listing: string, parameters: object = {}, signal?: AbortSignal) {
  return { path: { name: listing }, query: parameters as QueryParameters, signal };
}
