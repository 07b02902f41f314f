import { TEXT_ENCODINGS, type TextEncoding } from "@orisma/contract";
import { fault } from "@orisma/core/internal";
import { problemOf } from "../../http/index.js";
import { broken } from "./table.js";
import { bytesOf, type SpooledFile } from "./spool.js";

/** An encoding, and what was decided about it where the file does not say. */
export interface FoundEncoding {
  readonly encoding: TextEncoding;
  readonly remark: string | null;
}

/** Bytes that stand for nothing in Windows-1252, and control codes that text does not hold. */
const NOT_WINDOWS = new Set([0x81, 0x8d, 0x8f, 0x90, 0x9d]);

/**
 * The encoding of a file of text: its byte order mark, else UTF-16 by its zero bytes, else UTF-8
 * if all of it is, else Windows-1252 if it can be, with a remark. Throws where it is none.
 */
export async function findEncoding(
  file: SpooledFile,
  named: TextEncoding | undefined,
): Promise<FoundEncoding> {
  if (named !== undefined) return { encoding: named, remark: null };
  const { head, notUtf8 } = file;
  if (head[0] === 0xff && head[1] === 0xfe) return { encoding: "utf-16le", remark: null };
  if (head[0] === 0xfe && head[1] === 0xff) return { encoding: "utf-16be", remark: null };
  const wide = wideEncoding(head);
  if (wide !== null) return { encoding: wide, remark: `read as ${wide}, which it does not say` };
  if (notUtf8 === null) return { encoding: "utf-8", remark: null };
  for await (const chunk of bytesOf(file)) {
    for (const byte of chunk as Buffer) if (NOT_WINDOWS.has(byte)) throw unknownEncoding(notUtf8);
  }
  const remark = `line ${notUtf8} is not UTF-8; the file was read as windows-1252`;
  return { encoding: "windows-1252", remark };
}

function unknownEncoding(line: number) {
  const reason = `line ${line} is neither UTF-8 nor windows-1252: name the file's encoding`;
  return problemOf([fault("file.encoding", { reason, known: TEXT_ENCODINGS })]);
}

/** UTF-16 without a mark: in most languages every second byte of many is zero. */
function wideEncoding(head: Buffer): "utf-16le" | "utf-16be" | null {
  const zeros = [0, 0];
  const end = Math.min(head.length, 4_096);
  for (let at = 0; at < end; at++) if (head[at] === 0) zeros[at % 2] = (zeros[at % 2] ?? 0) + 1;
  const [even = 0, odd = 0] = zeros;
  if (odd > end / 5 && even < odd / 20) return "utf-16le";
  return even > end / 5 && odd < even / 20 ? "utf-16be" : null;
}

/** The beginning of a file as text, as far as it can be decoded. */
export function headText(file: SpooledFile, encoding: TextEncoding): string {
  return new TextDecoder(encoding).decode(file.head, { stream: true });
}

/**
 * The text of a file, with its line ends as LF. `onBytes` receives how many bytes have been read.
 * Throws at bytes that are not of the encoding.
 */
export async function* textOf(
  file: SpooledFile,
  encoding: TextEncoding,
  onBytes: (bytes: number) => void,
): AsyncGenerator<string> {
  const decoder = new TextDecoder(encoding, { fatal: true });
  let bytes = 0;
  let held = "";
  const decode = (chunk: Buffer | null) => {
    try {
      return chunk === null ? decoder.decode() : decoder.decode(chunk, { stream: true });
    } catch {
      throw broken(`the bytes before byte ${bytes} are not ${encoding}`);
    }
  };
  for await (const chunk of bytesOf(file)) {
    bytes += (chunk as Buffer).length;
    const text = held + decode(chunk as Buffer);
    // The rest of a CR LF may be in the next chunk.
    held = text.endsWith("\r") ? "\r" : "";
    yield lineFeeds(held === "" ? text : text.slice(0, -1));
    onBytes(bytes);
  }
  yield lineFeeds(held + decode(null));
}

function lineFeeds(text: string): string {
  return text.includes("\r") ? text.replace(/\r\n?/g, "\n") : text;
}
