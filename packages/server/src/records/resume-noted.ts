import { MARIADB, pageStatement, type PageQuery } from "@orisma/core/internal";
import type { Read, ResultRow } from "../database/index.js";
import type { PreparedRequest } from "./prepared.js";
import type { TableRow } from "./tables.js";

/** Changed records that are looked at in one query, and in one request: most may be none of the listing. */
const LOOKED_AT_ONCE = 500;
const MAX_LOOKED_AT = 20_000;

/** Up to where a caller has the records of a listing whose changes are noted. */
export interface NotedPlace {
  /** Whether the records that there were at the start are still being sent, in the order of their ids. */
  readonly isFirst: boolean;
  /** The number of the last change that is sent, or that was at the start. */
  readonly seen: number;
  /** The last id that is sent: of all, or of that change; null before the first. */
  readonly id: string | null;
}

interface Found {
  readonly rows: readonly TableRow[];
  readonly place: NotedPlace;
  readonly hasMore: boolean;
}

/** One look at the records and at what is noted of their changes, as they were in one moment. */
export class NotedChanges {
  constructor(
    private readonly prepared: PreparedRequest,
    private readonly query: PageQuery,
    private readonly read: Read,
    private readonly source: number,
    /** The number of the last change. */
    private readonly last: number,
  ) {}

  async after(place: NotedPlace): Promise<Found> {
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
  async #all({ seen, id }: NotedPlace): Promise<Found> {
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
  async #changed(from: NotedPlace, most: number): Promise<Found> {
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

  async #noted({ seen, id }: NotedPlace): Promise<readonly (readonly [string, number])[]> {
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
