import { createHash } from "node:crypto";
import { createReadStream } from "node:fs";
import { createGunzip } from "node:zlib";
import { z } from "zod";

/** What the first line of a backup says. */
const HEADER = z.object({
  format: z.literal("orisma-backup"),
  version: z.literal(1),
  createdAt: z.iso.datetime(),
  /** The migrations that its tables have been through, in their order. */
  migrations: z.array(z.string()),
  /** In hexadecimal; null where it was not asked for. */
  secret: z
    .string()
    .regex(/^[0-9a-f]{64}$/)
    .nullable(),
});
export type BackupHeader = z.infer<typeof HEADER>;

/** What the last line says of all before it. */
const TRAILER = z.object({ sha256: z.string(), bytes: z.number() });

/** Begins the last line, which is a comment of SQL. */
const TRAILER_MARK = "-- ";

/** A file is no backup, or not a whole one; the message says why. */
export class BackupUnreadable extends Error {}

/** A backup piece by piece: its header, the SQL, and a check of both. */
export async function* written(
  header: BackupHeader,
  sql: AsyncIterable<Buffer>,
): AsyncGenerator<Buffer> {
  const hash = createHash("sha256");
  let bytes = 0;
  const counted = (piece: Buffer) => {
    hash.update(piece);
    bytes += piece.length;
    return piece;
  };
  yield counted(Buffer.from(`${JSON.stringify(header)}\n`));
  for await (const piece of sql) yield counted(piece);
  const sum = { sha256: hash.digest("hex"), bytes };
  yield Buffer.from(`${TRAILER_MARK}${JSON.stringify(sum)}\n`);
}

const NEWLINE = 10;
/** Bytes of the first and of the last line at most. */
const LONGEST_LINE = 65_536;

/** Reads a backup from its beginning to its end; throws {@link BackupUnreadable} for one that is not whole. */
export async function checked(
  path: string,
): Promise<{ readonly header: BackupHeader; readonly bytes: number }> {
  const hash = createHash("sha256");
  let bytes = 0;
  let first: Buffer = Buffer.alloc(0);
  let tail: Buffer = Buffer.alloc(0);
  try {
    for await (const piece of createReadStream(path).pipe(createGunzip())) {
      const chunk = piece as Buffer;
      if (first.length < LONGEST_LINE) first = Buffer.concat([first, chunk]);
      // All but what may be the last line is known to be none.
      const joined = Buffer.concat([tail, chunk]);
      const safe = Math.max(0, joined.length - LONGEST_LINE);
      hash.update(joined.subarray(0, safe));
      bytes += safe;
      tail = Buffer.from(joined.subarray(safe));
    }
  } catch (error) {
    const why = error instanceof Error ? error.message : String(error);
    throw new BackupUnreadable(`the file is no backup, or not whole (${why})`);
  }
  const header = HEADER.safeParse(jsonOf(first.subarray(0, first.indexOf(NEWLINE))));
  if (!header.success)
    throw new BackupUnreadable("the file is no backup of this version of Orisma");
  const at = tail.lastIndexOf(NEWLINE, tail.length - 2) + 1;
  hash.update(tail.subarray(0, at));
  bytes += at;
  const trailer = TRAILER.safeParse(jsonOf(tail.subarray(at + TRAILER_MARK.length)));
  if (!trailer.success)
    throw new BackupUnreadable("the backup is not whole: its last line is missing");
  if (trailer.data.bytes !== bytes || trailer.data.sha256 !== hash.digest("hex")) {
    throw new BackupUnreadable("the backup is damaged: its content does not match its check sum");
  }
  return { header: header.data, bytes };
}

/** The SQL of a backup that was checked, without its first line. */
export async function* sqlOf(path: string): AsyncGenerator<Buffer> {
  let isBody = false;
  for await (const piece of createReadStream(path).pipe(createGunzip())) {
    const chunk = piece as Buffer;
    const at = isBody ? -1 : chunk.indexOf(NEWLINE);
    if (!isBody && at < 0) continue;
    isBody = true;
    yield chunk.subarray(at + 1);
  }
}

function jsonOf(text: Buffer): unknown {
  try {
    return JSON.parse(text.toString("utf8"));
  } catch {
    return null;
  }
}
