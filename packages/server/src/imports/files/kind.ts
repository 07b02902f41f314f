import { fault } from "@orisma/core/internal";
import { problemOf } from "../../http/index.js";
import type { SpooledFile } from "./spool.js";

/** How kinds of file that are no tables begin. */
const SIGNATURES: readonly (readonly [bytes: string, found: string])[] = [
  ["25504446", "a PDF document"],
  ["89504e47", "a PNG image"],
  ["ffd8ff", "a JPEG image"],
  ["47494638", "a GIF image"],
  ["1f8b", "compressed with gzip twice: unpack it first"],
  ["425a68", "compressed with bzip2: unpack it first"],
  ["fd377a585a00", "compressed with xz: unpack it first"],
  ["28b52ffd", "compressed with zstd: unpack it first"],
  ["377abcaf271c", "a 7z archive: unpack it first"],
  ["526172211a", "a RAR archive: unpack it first"],
  ["d0cf11e0a1b11ae1", "an old binary workbook or one with a password: save it as .xlsx"],
  ["53514c69746520666f726d617420", "an SQLite database"],
  ["50415231", "a Parquet file"],
  ["7f454c46", "a program"],
];

/** What a file is by its first bytes: an archive of a workbook, or text; throws for all else. */
export function kindOf({ head, bytes }: SpooledFile): "zip" | "text" {
  if (bytes === 0) throw notATable("empty");
  const start = head.subarray(0, 32).toString("hex");
  if (start.startsWith("504b0304")) return "zip";
  if (start.startsWith("504b0506")) throw notATable("an empty archive");
  const known = SIGNATURES.find(([signature]) => start.startsWith(signature));
  if (known !== undefined) throw notATable(known[1]);
  return "text";
}

/** Refuses a text that is no table, or no text: a page of the web, binary rubbish. */
export function checkText(text: string): void {
  if (/^\s*(?:<!doctype|<html|<\?xml|<svg)/i.test(text)) throw notATable("a page of markup");
  const sample = text.slice(0, 65_536);
  // eslint-disable-next-line no-control-regex -- these are the characters that text does not hold
  const controls = sample.match(/[\u0000-\u0008\u000e-\u001a\u001c-\u001f\ufffd]/g)?.length ?? 0;
  if (controls > sample.length / 200) throw notATable("binary data");
  if (sample.trim() === "") throw notATable("empty");
}

function notATable(found: string) {
  return problemOf([fault("file.type", { found })]);
}
