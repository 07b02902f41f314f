import { fault, type Fault, type FaultFacts, type PageQuery } from "@orisma/core/internal";
import { z } from "zod";
import { Sealer } from "../access/index.js";
import { TableReplaced } from "../database/index.js";
import { Problem, problemOf } from "../http/index.js";
import type { PreparedRequest } from "./prepared.js";
import { narrowedTo } from "./read.js";
import { NotedChanges, type NotedPlace } from "./resume-noted.js";
import { timedChanges, type TimedChanges } from "./resume-timed.js";
import type { TableRow } from "./tables.js";

/** What is sent to begin: all records, and from then on those that change. */
const START = "start";
/** Longest token that is looked at, in characters; ours are far shorter. */
const LONGEST = 2_048;

const NOTED = z.tuple([z.boolean(), z.number(), z.string().nullable()]);
const VALUE = z.union([z.string(), z.number()]);
const TIMED = z.tuple([VALUE, VALUE]);
const PAYLOAD = z.tuple([z.string(), z.number(), z.string(), z.string()]).rest(z.unknown());

/** Records in the order in which they were added and changed, and where to go on. */
export interface ResumedRows {
  readonly rows: readonly TableRow[];
  readonly token: string;
  readonly hasMore: boolean;
  /** Of an attached table: the declared lag, and the instant before which changes are returned. */
  readonly lag?: string;
  readonly upTo?: string;
  readonly notices?: TimedChanges["answer"]["notices"];
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
  async next(prepared: PreparedRequest, resume: string, now: number): Promise<ResumedRows> {
    if (prepared.untilChangeMs !== Infinity) throw refused(fault("resume.moving", {}, AT));
    const held = resume === START ? null : this.#open(resume);
    if (held !== null) mustBeOf(prepared, held);
    const { resume: declared } = prepared.listing.declaration;
    if (typeof declared !== "object") return this.#noted(prepared, held);
    const place = held === null ? null : placeIn(TIMED, held);
    const found = await timedChanges(prepared, declared, {
      query: await bareQuery(prepared),
      place: place === null ? null : { value: place[0], key: place[1] },
      now,
    });
    const { column } = declared;
    const next = found.place === null ? [] : [found.place.value, found.place.key];
    const token = found.place === null ? START : this.#seal(prepared, column, next);
    return { ...found.answer, token };
  }

  /** By what is noted of the changes of an imported source. */
  async #noted(prepared: PreparedRequest, held: Held | null): Promise<ResumedRows> {
    const { imported, id } = prepared.listing.ofSource;
    if (imported === null) {
      throw new Problem("invalid-value", "The source is none of the service's own");
    }
    const query = await bareQuery(prepared);
    const from = held === null ? null : placeIn(NOTED, held);
    const found = await prepared.gateway.snapshot(async (read) => {
      const [[counted = 0, table, mark] = []] = await read({
        text: "SELECT imports, recordsTable, changesMark FROM sources WHERE id = ?",
        values: [id],
      });
      // What was noted is of the table that is in use now: the request is planned again for it.
      if (table !== imported.table) throw new TableReplaced("the records were replaced");
      const last = Number(counted);
      if (held !== null && held.mark !== mark) throw ended("backup");
      const place: NotedPlace =
        from === null
          ? { isFirst: true, seen: last, id: null }
          : { isFirst: from[0], seen: from[1], id: from[2] };
      const found = await new NotedChanges(prepared, query, read, id, last).after(place);
      return { ...found, mark: String(mark) };
    });
    const { place, mark, rows, hasMore } = found;
    const token = this.#seal(prepared, mark, [place.isFirst, place.seen, place.id]);
    return { rows, hasMore, token };
  }

  /** A token: what it is a place in, and the place. */
  #seal(prepared: PreparedRequest, mark: string, place: readonly unknown[]): string {
    const { source, ids, hash } = originOf(prepared);
    return this.#sealer.seal(JSON.stringify([mark, source, ids, hash, ...place]));
  }

  #open(token: string): Held {
    const plain = token.length > LONGEST ? null : this.#sealer.open(token);
    const read = PAYLOAD.safeParse(plain === null ? null : JSON.parse(plain));
    if (!read.success) throw refused(fault("resume.unreadable", {}, { ...AT, value: token }));
    const [mark, source, ids, hash, ...place] = read.data;
    return { mark, source, ids, hash, place };
  }
}

/** What a token holds: a place, and what it is a place in. */
interface Held extends Origin {
  readonly place: readonly unknown[];
  /** The mark of the source's changes, or the column that says when a record changed. */
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

/** Throws a problem for a token of other records, of another filter, or by another column. */
function mustBeOf(prepared: PreparedRequest, held: Held): void {
  const { source, ids, hash } = originOf(prepared);
  if (held.source !== source) throw ended("source");
  if (held.ids !== ids) throw ended("ids");
  const { resume } = prepared.listing.declaration;
  const isByOther = typeof resume === "object" && held.mark !== resume.column;
  if (held.hash !== hash || isByOther) throw ended("filter");
}

/** The place in a token, which may be from a time when changes were found in another way. */
function placeIn<T>(kind: z.ZodType<T>, { place }: Held): T {
  const read = kind.safeParse(place);
  if (!read.success) throw ended("source");
  return read.data;
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
