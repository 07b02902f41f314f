import {
  MARIADB,
  fault,
  pageStatement,
  type Fault,
  type FaultFacts,
  type PageQuery,
} from "@orisma/core/internal";
import { z } from "zod";
import { Sealer } from "../access/index.js";
import { TableReplaced, type Read, type ResultRow } from "../database/index.js";
import { Problem, problemOf } from "../http/index.js";
import type { PreparedRequest } from "./prepared.js";
import { narrowedTo } from "./read.js";
import type { TableRow } from "./tables.js";

/** What is sent to begin: all records, and from then on those that change. */
const START = "start";
/** Changed records that are looked at in one query, and in one request: most may be none of the listing. */
const LOOKED_AT_ONCE = 500;
const MAX_LOOKED_AT = 20_000;
/** Longest token that is looked at, in characters; ours are far shorter. */
const LONGEST = 2_048;

/** Up to where a caller has the records of a listing. */
interface Place {
  /** Whether the records that there were at the start are still being sent, in the order of their ids. */
  readonly isFirst: boolean;
  /** The number of the last change that is sent, or that was at the start. */
  readonly seen: number;
  /** The last id that is sent: of all, or of that change; null before the first. */
  readonly id: string | null;
}

const PAYLOAD = z.tuple([
  z.string(),
  z.number(),
  z.string(),
  z.string(),
  z.boolean(),
  z.number(),
  z.string().nullable(),
]);

/** Records in the order in which they were added and changed, and where to go on. */
export interface ResumedRows {
  readonly rows: readonly TableRow[];
  readonly token: string;
  readonly hasMore: boolean;
}

/** Finds the records that were added or changed since a place. */
export class Resuming {
  readonly #sealer: Sealer;

  constructor(secret: Buffer) {
    this.#sealer = new Sealer(secret, "resume");
  }

  /**
   * The next records of a request with `resume`, each once for each time that it was changed since, however many
   * are changed meanwhile. Throws a problem for a token that is of another listing, source or query, and for a
   * query whose records depend on the clock.
   */
  async next(prepared: PreparedRequest, resume: string): Promise<ResumedRows> {
    if (prepared.untilChangeMs !== Infinity) throw refused(fault("resume.moving", {}, AT));
    const held = resume === START ? null : this.#open(resume);
    if (held !== null) mustBeOf(prepared, held);
    const { imported, id } = prepared.listing.ofSource;
    if (imported === null)
      throw new Problem("invalid-value", "The source is none of the service's own");
    const query = await bareQuery(prepared);
    const found = await prepared.gateway.snapshot(async (read) => {
      const [[counted = 0, table, mark] = []] = await read({
        text: "SELECT imports, recordsTable, changesMark FROM sources WHERE id = ?",
        values: [id],
      });
      // What was noted is of the table that is in use now: the request is planned again for it.
      if (table !== imported.table) throw new TableReplaced("the records were replaced");
      const last = Number(counted);
      if (held !== null && held.mark !== mark) throw ended("backup");
      const place = held?.place ?? { isFirst: true, seen: last, id: null };
      const found = await new Reading(prepared, query, read, id, last).after(place);
      return { ...found, mark: String(mark) };
    });
    const { place, mark, rows, hasMore } = found;
    return { rows, hasMore, token: this.#seal({ place, mark, ...originOf(prepared) }) };
  }

  #seal({ mark, source, ids, hash, place: { isFirst, seen, id } }: Held): string {
    return this.#sealer.seal(JSON.stringify([mark, source, ids, hash, isFirst, seen, id]));
  }

  #open(token: string): Held {
    const plain = token.length > LONGEST ? null : this.#sealer.open(token);
    const read = PAYLOAD.safeParse(plain === null ? null : JSON.parse(plain));
    if (!read.success) throw refused(fault("resume.unreadable", {}, { ...AT, value: token }));
    const [mark, source, ids, hash, isFirst, seen, id] = read.data;
    return { mark, source, ids, hash, place: { isFirst, seen, id } };
  }
}

/** What a token holds: a place, and what it is a place in. */
interface Held extends Origin {
  readonly place: Place;
  /** The mark of the source's changes. */
  readonly mark: string;
}

interface Origin {
  readonly source: number;
  readonly ids: string;
  /** Of the filter. */
  readonly hash: string;
}

function originOf({ binding, queryHash }: PreparedRequest): Origin {
  return { source: binding.source, ids: binding.ids, hash: queryHash };
}

/** Throws a problem for a token of other records, or of another filter. */
function mustBeOf(prepared: PreparedRequest, held: Held): void {
  const { source, ids, hash } = originOf(prepared);
  if (held.source !== source) throw ended("source");
  if (held.ids !== ids) throw ended("ids");
  if (held.hash !== hash) throw ended("filter");
}

function ended(by: FaultFacts["resume.ended"]["by"]): Problem {
  return refused(fault("resume.ended", { by }, AT));
}

const AT = { parameter: "resume" } as const;

function refused(found: Fault): Problem {
  return problemOf([found]);
}

/** What a request asks for, in whatever order and of whatever size. */
async function bareQuery({ query, table, gateway }: PreparedRequest): Promise<PageQuery> {
  const { offset: _, ...rest } = query;
  return {
    ...rest,
    filter: await narrowedTo(query.filter, table, gateway),
    order: { column: null, descending: false },
    after: null,
    counts: [],
  };
}

interface Found {
  readonly rows: readonly TableRow[];
  readonly place: Place;
  readonly hasMore: boolean;
}

/** One look at the records and at what is noted of their changes, as they were in one moment. */
class Reading {
  constructor(
    private readonly prepared: PreparedRequest,
    private readonly query: PageQuery,
    private readonly read: Read,
    private readonly source: number,
    /** The number of the last change. */
    private readonly last: number,
  ) {}

  async after(place: Place): Promise<Found> {
    if (!place.isFirst) return this.#changed(place, this.#size);
    const first = await this.#all(place);
    if (first.place.isFirst) return first;
    const room = this.#size - first.rows.length;
    const more = room === 0 ? { ...first, rows: [] } : await this.#changed(first.place, room);
    return { ...more, rows: [...first.rows, ...more.rows] };
  }

  get #size(): number {
    return this.prepared.envelope.size;
  }

  /** The records that there were at the start, in the order of their ids; those that changed since come later. */
  async #all({ seen, id }: Place): Promise<Found> {
    const after = id === null ? null : { value: null, key: id, then: [] };
    const read = await this.#rows({ ...this.query, after, limit: this.#size + 1 });
    const page = read.slice(0, this.#size);
    const ids = page.map(idOf);
    const changed = await this.#changedSince(seen, ids);
    const rows = page.filter((row) => !changed.has(idOf(row)));
    const isFirst = read.length > page.length;
    const place = isFirst ? { isFirst, seen, id: ids.at(-1) ?? id } : { isFirst, seen, id: null };
    return { rows, place, hasMore: isFirst || this.last > seen };
  }

  async #changedSince(seen: number, ids: readonly string[]): Promise<ReadonlySet<string>> {
    if (this.last === seen || ids.length === 0) return new Set();
    const places = ids.map(() => "?").join(", ");
    const found = await this.read({
      text: `SELECT recordId FROM changed_records WHERE sourceId = ? AND number > ? AND recordId IN (${places})`,
      values: [this.source, seen, ...ids],
    });
    return new Set(found.map(([id]) => String(id)));
  }

  /** The records that changed after a place, in the order of their changes. */
  async #changed(from: Place, most: number): Promise<Found> {
    const rows: TableRow[] = [];
    let place = from;
    for (let lookedAt = 0; lookedAt < MAX_LOOKED_AT; lookedAt += LOOKED_AT_ONCE) {
      const noted = await this.#noted(place);
      const found = await this.#byId(noted.map(([id]) => id));
      for (const [id, number] of noted) {
        if (rows.length === most) return { rows, place, hasMore: true };
        place = { isFirst: false, seen: number, id };
        const row = found.get(id);
        if (row !== undefined) rows.push(row);
      }
      if (noted.length < LOOKED_AT_ONCE) return { rows, place, hasMore: false };
    }
    // What is noted goes on: whoever comes again is brought further.
    return { rows, place, hasMore: true };
  }

  async #noted({ seen, id }: Place): Promise<readonly (readonly [string, number])[]> {
    const same = id === null ? "" : " OR (number = ? AND recordId > ?)";
    const found = await this.read({
      text: `SELECT recordId, number FROM changed_records WHERE sourceId = ? AND (number > ?${same}) ORDER BY number, recordId LIMIT ${LOOKED_AT_ONCE}`,
      values: [this.source, seen, ...(id === null ? [] : [seen, id])],
    });
    return found.map(([changed, number]) => [String(changed), Number(number)]);
  }

  async #byId(ids: readonly string[]): Promise<ReadonlyMap<string, TableRow>> {
    if (ids.length === 0) return new Map();
    const rows = await this.#rows({ ...this.query, only: ids, limit: ids.length });
    return new Map(rows.map((row) => [idOf(row), row]));
  }

  async #rows(query: PageQuery): Promise<readonly TableRow[]> {
    const [table] = this.prepared.tables;
    // Nothing can satisfy the request.
    if (table === undefined) return [];
    const page = pageStatement(query, table.table, MARIADB);
    const rows = await this.read(page);
    return rows.map((row: ResultRow) => ({ table, row, fields: page.fields }));
  }
}

function idOf({ row, fields }: TableRow): string {
  return String(row[fields.key]);
}
