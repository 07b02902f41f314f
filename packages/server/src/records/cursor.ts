import { createHash } from "node:crypto";
import type { Cursor } from "@orisma/core/internal";
import { z } from "zod";
import { Sealer } from "../access/index.js";
import { Resuming } from "./resume.js";

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

/** Longest cursor that is looked at, in characters; ours are far shorter. */
const LONGEST = 4_096;

/** Writes and reads cursors, encrypted and authenticated. */
export class Cursors {
  /** Picks up where a caller stopped. */
  readonly resuming: Resuming;
  readonly #sealer: Sealer;

  constructor(secret: Buffer) {
    this.resuming = new Resuming(secret);
    this.#sealer = new Sealer(secret, "cursor");
  }

  /**
   * The cursor as text for an address: the same place has the same cursor each time, so that an
   * answer that has not changed stays the same.
   */
  write({ position, backward, binding, asOf, query, partition }: Cursor): string {
    const of = partition === null ? null : [partition.label, partition.ms];
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
    const partition = of === null ? null : { label: of[0], ms: of[1] };
    return { position: { value, key, then }, backward, binding, asOf, query, partition };
  }
}

/** A short hash of what a query is. */
export function queryHash(text: string): string {
  return createHash("sha256").update(text).digest("base64url").slice(0, 22);
}
