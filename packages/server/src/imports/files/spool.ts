import { createHash, randomUUID } from "node:crypto";
import { createReadStream } from "node:fs";
import { mkdir, open, rm } from "node:fs/promises";
import { isUtf8 } from "node:buffer";
import { join } from "node:path";
import type { Readable } from "node:stream";
import { fault } from "@orisma/core/internal";
import { problemOf } from "../../http/index.js";
import { unpacked } from "./unpack.js";

/** A file that has arrived whole, and lies on disk until it is done with. */
export interface SpooledFile {
  readonly path: string;
  readonly bytes: number;
  /** Of its content, in hexadecimal (FIPS 180-4). */
  readonly sha256: string;
  /** Its first bytes. */
  readonly head: Buffer;
  /** The first line that is not UTF-8, or null where all of it is. */
  readonly notUtf8: number | null;
  /** Removes it from disk. */
  remove(): Promise<void>;
}

/** Bytes at the beginning of a file from which its format is detected. */
export const HEAD_BYTES = 262_144;
/** Bytes of a file at most. */
export const LARGEST_FILE = 16 * 1024 ** 3;

/**
 * Receives a file as it arrives: on disk, so that a file of any size costs no memory, with what a
 * look at every byte can find out. Throws where it is too large, or does not arrive whole.
 */
export async function spool(
  body: Readable,
  folder: string,
  {
    onBytes = () => undefined,
    isPacked = true,
  }: {
    /** Told how many bytes have come. */
    readonly onBytes?: (bytes: number) => void;
    /** Whether what is compressed with gzip is unpacked. */
    readonly isPacked?: boolean;
  } = {},
): Promise<SpooledFile> {
  await mkdir(folder, { recursive: true, mode: 0o700 });
  const path = join(folder, `${randomUUID()}.part`);
  const remove = () => rm(path, { force: true });
  const file = await open(path, "wx", 0o600);
  const seen = new Look();
  try {
    for await (const chunk of isPacked ? unpacked(body, onBytes) : plain(body, onBytes)) {
      seen.add(chunk);
      if (seen.bytes > LARGEST_FILE) throw tooLarge();
      await file.write(chunk);
    }
  } catch (error) {
    await remove();
    throw error;
  } finally {
    await file.close();
  }
  return { path, remove, ...seen.found() };
}

async function* plain(body: Readable, onBytes: (bytes: number) => void): AsyncGenerator<Buffer> {
  let bytes = 0;
  // Left open at the end, so that an early refusal can still be answered.
  for await (const chunk of body.iterator({ destroyOnReturn: false })) {
    bytes += (chunk as Buffer).length;
    yield chunk as Buffer;
    onBytes(bytes);
  }
}

/** Small enough that strings of it die young: larger ones would stay until all memory is looked at. */
const READ_BYTES = 65_536;

/** The bytes of a spooled file from its beginning. */
export function bytesOf(file: SpooledFile): Readable {
  return createReadStream(file.path, { highWaterMark: READ_BYTES });
}

function tooLarge() {
  const most = `${LARGEST_FILE / 1024 ** 3} GiB at most`;
  return problemOf([fault("file.limit", { reason: "the file is too large", most })]);
}

const NEWLINE = 10;

/** What is known of a file from all of its bytes. */
class Look {
  bytes = 0;
  readonly #hash = createHash("sha256");
  readonly #head: Buffer[] = [];
  #headBytes = 0;
  /** The beginning of a character whose end has not arrived. */
  #carry: Buffer = Buffer.alloc(0);
  #lines = 0;
  #notUtf8: number | null = null;

  add(chunk: Buffer): void {
    this.bytes += chunk.length;
    this.#hash.update(chunk);
    if (this.#headBytes < HEAD_BYTES) {
      this.#head.push(chunk.subarray(0, HEAD_BYTES - this.#headBytes));
      this.#headBytes += Math.min(chunk.length, HEAD_BYTES - this.#headBytes);
    }
    if (this.#notUtf8 === null) this.#check(chunk, false);
  }

  found() {
    if (this.#notUtf8 === null && this.#carry.length > 0) this.#check(Buffer.alloc(0), true);
    return {
      bytes: this.bytes,
      sha256: this.#hash.digest("hex"),
      head: Buffer.concat(this.#head),
      notUtf8: this.#notUtf8,
    };
  }

  #check(chunk: Buffer, isLast: boolean): void {
    const all = this.#carry.length === 0 ? chunk : Buffer.concat([this.#carry, chunk]);
    const end = isLast ? all.length : wholeCharacters(all);
    const whole = all.subarray(0, end);
    this.#carry = Buffer.from(all.subarray(end));
    if (!isUtf8(whole)) {
      this.#notUtf8 = this.#lines + firstBadLine(whole);
      return;
    }
    for (let at = whole.indexOf(NEWLINE); at >= 0; at = whole.indexOf(NEWLINE, at + 1)) {
      this.#lines++;
    }
  }
}

/** Where the last sign that is whole ends: up to three bytes may begin one that is not. */
function wholeCharacters(bytes: Buffer): number {
  for (let back = 1; back <= Math.min(3, bytes.length); back++) {
    const byte = bytes[bytes.length - back] ?? 0;
    if (byte < 0x80) return bytes.length;
    if (byte < 0xc0) continue;
    const length = byte < 0xe0 ? 2 : byte < 0xf0 ? 3 : 4;
    return length > back ? bytes.length - back : bytes.length;
  }
  return bytes.length;
}

function firstBadLine(bytes: Buffer): number {
  let line = 1;
  for (let start = 0; start < bytes.length; line++) {
    const next = bytes.indexOf(NEWLINE, start);
    const end = next < 0 ? bytes.length : next + 1;
    if (!isUtf8(bytes.subarray(start, end))) return line;
    start = end;
  }
  return line;
}
