import { createHash } from "node:crypto";
import type { Position } from "@orisma/core";
import { z } from "zod";
import { Sealer } from "../access/index.js";

/** Where a page begins, and what it is a page of. */
export interface Cursor {
  readonly position: Position;
  /** Whether the page lies before the position, in the order of the listing. */
  readonly backward: boolean;
  readonly binding: CursorBinding;
  /** The instant of asking, for a query that moves with the clock; every page has the first's. */
  readonly asOf: number | null;
  /** A hash of filter and order, so that a cursor is not taken for another query's. */
  readonly query: string;
  /** For a source of several tables: that of the record, and its date in milliseconds. */
  readonly member: { readonly label: string; readonly ms: number | null } | null;
}

/** What a cursor is bound to: a place among records means something only as long as these stay. */
export interface CursorBinding {
  readonly listing: string;
  /** The id of the key with which it was asked for. */
  readonly caller: string;
  readonly version: number;
  readonly source: number;
  /** What the ids of the source's records are. */
  readonly ids: string;
  /** What the columns of the order hold. */
  readonly order: string;
}

/** What may have become of a listing and its source so that a place in it means nothing any more. */
export const CURSOR_ENDS = ["version", "source", "ids", "order"] as const;

const VALUE = z.union([z.string(), z.number(), z.null()]);
const PAYLOAD = z.tuple([
  VALUE,
  VALUE,
  z.boolean(),
  z.tuple([z.string(), z.string(), z.number(), z.number(), z.string(), z.string()]),
  z.number().nullable(),
  z.string(),
  z.tuple([z.string(), z.number().nullable()]).nullable(),
  z.array(VALUE),
]);

/** Longest cursor that is looked at, in signs; ours are far shorter. */
const LONGEST = 4_096;

/** Writes and reads cursors, encrypted and authenticated. */
export class Cursors {
  readonly #sealer: Sealer;

  constructor(secret: Buffer) {
    this.#sealer = new Sealer(secret, "cursor");
  }

  /**
   * The cursor as text for an address: the same place has the same cursor each time, so that an
   * answer that has not changed stays the same.
   */
  write({ position, backward, binding, asOf, query, member }: Cursor): string {
    const of = member === null ? null : [member.label, member.ms];
    const { value, key, then = [] } = position;
    const { listing, caller, version, source, ids, order } = binding;
    const bound = [listing, caller, version, source, ids, order];
    const plain = [value, key, backward, bound, asOf, query, of, then];
    return this.#sealer.seal(JSON.stringify(plain));
  }

  /** The content of a cursor, or null for a text that this service did not make. */
  read(text: string): Cursor | null {
    const plain = text.length > LONGEST ? null : this.#sealer.open(text);
    if (plain === null) return null;
    const read = PAYLOAD.safeParse(JSON.parse(plain));
    if (!read.success) return null;
    const [value, key, backward, bound, asOf, query, of, then] = read.data;
    const [listing, caller, version, source, ids, order] = bound;
    const binding = { listing, caller, version, source, ids, order };
    const member = of === null ? null : { label: of[0], ms: of[1] };
    return { position: { value, key, then }, backward, binding, asOf, query, member };
  }
}

/** A short hash of what a query is. */
export function queryHash(...parts: readonly unknown[]): string {
  return createHash("sha256").update(JSON.stringify(parts)).digest("base64url").slice(0, 22);
}
