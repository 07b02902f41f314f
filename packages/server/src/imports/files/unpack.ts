import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import { createGunzip } from "node:zlib";
import { fault } from "@orisma/core/internal";
import { problemOf } from "../../http/index.js";
import { broken } from "./table.js";

/** How files begin that are compressed with gzip (RFC 1952, section 2.3.1). */
const GZIP = Buffer.from([0x1f, 0x8b]);
/** Bytes that a compressed file may come to whatever its size, and times its size beyond that. */
const ALWAYS_ALLOWED = 256 * 1024 ** 2;
const MAX_TIMES = 200;

/** The bytes of a file as they arrive, unpacked where they are compressed with gzip; `onBytes` counts those that came. */
export async function* unpacked(
  body: Readable,
  onBytes: (bytes: number) => void,
): AsyncGenerator<Buffer> {
  let arrived = 0;
  // Left open at the end, so that an early refusal can still be answered.
  const chunks = body.iterator({ destroyOnReturn: false }) as AsyncIterable<Buffer>;
  const counted = (async function* () {
    for await (const chunk of chunks) {
      arrived += chunk.length;
      onBytes(arrived);
      yield chunk;
    }
  })();
  let head = Buffer.alloc(0);
  while (head.length < GZIP.length) {
    const next = await counted.next();
    if (next.done === true) break;
    head = Buffer.concat([head, next.value]);
  }
  if (!head.subarray(0, GZIP.length).equals(GZIP)) {
    yield head;
    yield* counted;
    return;
  }
  let unpackedBytes = 0;
  for await (const chunk of gunzipped(head, counted)) {
    unpackedBytes += chunk.length;
    if (unpackedBytes > Math.max(ALWAYS_ALLOWED, arrived * MAX_TIMES)) {
      const reason = "the compressed file comes to far more than it is";
      const most = `${MAX_TIMES} times its size: unpack it first`;
      throw problemOf([fault("file.limit", { reason, most })]);
    }
    yield chunk;
  }
}

/** What is compressed, without more of it in memory than is read. */
async function* gunzipped(head: Buffer, rest: AsyncGenerator<Buffer>): AsyncGenerator<Buffer> {
  const gunzip = createGunzip();
  const whole = async function* () {
    yield head;
    yield* rest;
  };
  // What goes wrong with the sender ends the unpacking with the same failure.
  pipeline(Readable.from(whole()), gunzip).catch(() => undefined);
  try {
    for await (const chunk of gunzip) yield chunk as Buffer;
  } catch (error) {
    if (!isDamage(error)) throw error;
    throw broken("the file is compressed with gzip, and is damaged or not whole");
  }
}

function isDamage(error: unknown): boolean {
  if (typeof error !== "object" || error === null || !("code" in error)) return false;
  return String(error.code).startsWith("Z_");
}
