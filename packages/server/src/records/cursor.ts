import { createCipheriv, createDecipheriv, createHash, createHmac } from "node:crypto";
import type { Position } from "@orisma/core";
import { z } from "zod";

/** Where a page begins, and what it is a page of. */
export interface Cursor {
  readonly position: Position;
  /** Whether the page lies before the position, in the order of the listing. */
  readonly backward: boolean;
  /** What the cursor is bound to: listing, version and key. */
  readonly binding: string;
  /** The instant of asking, for a query that moves with the clock; every page has the first's. */
  readonly asOf: number | null;
  /** A hash of filter and order, so that a cursor is not taken for another query's. */
  readonly query: string;
}

const VALUE = z.union([z.string(), z.number(), z.null()]);
const PAYLOAD = z.tuple([VALUE, VALUE, z.boolean(), z.string(), z.number().nullable(), z.string()]);

const IV_BYTES = 12;
const TAG_BYTES = 16;
/** Longest cursor that is looked at, in signs; ours are far shorter. */
const LONGEST = 4_096;

/** Writes and reads cursors, encrypted and authenticated with AES-256-GCM. */
export class Cursors {
  readonly #encryption: Buffer;
  readonly #nonce: Buffer;

  constructor(secret: Buffer) {
    this.#encryption = derive(secret, "cursor encryption");
    this.#nonce = derive(secret, "cursor nonce");
  }

  /**
   * The cursor as text for an address. The nonce is a keyed hash of the content: the same place
   * has the same cursor each time, so that an answer that has not changed stays the same.
   */
  write({ position, backward, binding, asOf, query }: Cursor): string {
    const plain = JSON.stringify([position.value, position.key, backward, binding, asOf, query]);
    const iv = createHmac("sha256", this.#nonce).update(plain).digest().subarray(0, IV_BYTES);
    const cipher = createCipheriv("aes-256-gcm", this.#encryption, iv);
    const sealed = Buffer.concat([cipher.update(plain, "utf8"), cipher.final()]);
    return Buffer.concat([iv, cipher.getAuthTag(), sealed]).toString("base64url");
  }

  /** The content of a cursor, or null for a text that this service did not make. */
  read(text: string): Cursor | null {
    if (text.length > LONGEST || !/^[\w-]+$/.test(text)) return null;
    const bytes = Buffer.from(text, "base64url");
    // The decoder drops a stray sign at the end.
    if (bytes.toString("base64url") !== text) return null;
    if (bytes.length <= IV_BYTES + TAG_BYTES) return null;
    try {
      const decipher = createDecipheriv(
        "aes-256-gcm",
        this.#encryption,
        bytes.subarray(0, IV_BYTES),
      );
      decipher.setAuthTag(bytes.subarray(IV_BYTES, IV_BYTES + TAG_BYTES));
      const sealed = bytes.subarray(IV_BYTES + TAG_BYTES);
      const plain = Buffer.concat([decipher.update(sealed), decipher.final()]).toString("utf8");
      const [value, key, backward, binding, asOf, query] = PAYLOAD.parse(JSON.parse(plain));
      return { position: { value, key }, backward, binding, asOf, query };
    } catch {
      return null;
    }
  }
}

function derive(secret: Buffer, purpose: string): Buffer {
  return createHmac("sha256", secret).update(purpose).digest();
}

/** A short hash of what a query is. */
export function queryHash(...parts: readonly unknown[]): string {
  return createHash("sha256").update(JSON.stringify(parts)).digest("base64url").slice(0, 22);
}
